import type { DemoSource } from '../source.ts';
import { berthPlanner } from './berth-planner.ts';
import { bookingApi } from './booking-api.ts';
import { bookingWeb } from './booking-web.ts';
import { crewRoster } from './crew-roster.ts';
import { gates } from './gates.ts';
import { notices } from './notices.ts';
import { payments } from './payments.ts';
import { pierNetwork } from './pier-network.ts';
import { tides } from './tides.ts';
import { timetable } from './timetable.ts';
import { audit, vessels } from './vessels.ts';

/** All senders of the Skerry Line. */
export const demoSources: readonly DemoSource[] = [
  bookingWeb,
  bookingApi,
  timetable,
  payments,
  berthPlanner,
  gates,
  pierNetwork,
  tides,
  vessels,
  audit,
  crewRoster,
  notices,
];
