import { leaseNames } from '../cluster/leases.ts';
import { bookLostMessages } from './book-lost-messages.ts';
import { closeMinutes } from './close-minutes.ts';
import { countSeries } from './count-series.ts';
import { decideShapes } from './decide-shapes.ts';
import { drainSpools } from './drain-spools.ts';
import { expireEvents } from './expire-events.ts';
import { expireMetrics } from './expire-metrics.ts';
import { expireTalkers } from './expire-talkers.ts';
import { fillMetrics } from './fill-metrics.ts';
import { foldMetrics } from './fold-metrics.ts';
import { foldTalkers } from './fold-talkers.ts';
import { followChanges } from './follow-changes.ts';
import { freeMemory } from './free-memory.ts';
import { listenToOthers } from './listen-to-others.ts';
import { mergeSegments } from './merge-segments.ts';
import { resumeRewinds } from './resume-rewinds.ts';
import { rollUpMetrics } from './roll-up-metrics.ts';
import { rollUpTalkers } from './roll-up-talkers.ts';
import type { Round } from './round.ts';
import { runDemo } from './run-demo.ts';
import { saveLearnt } from './save-learnt.ts';
import { sendMetrics } from './send-metrics.ts';
import { watchDisk } from './watch-disk.ts';
import { watchSurges } from './watch-surges.ts';
import { watchVolumes } from './watch-volumes.ts';

/** All that an engine does again and again. */
export const rounds: readonly Round[] = [
  followChanges,
  runDemo,
  watchDisk,
  freeMemory,
  bookLostMessages,
  mergeSegments,
  expireEvents,
  decideShapes,
  foldMetrics,
  rollUpMetrics,
  fillMetrics,
  sendMetrics,
  countSeries,
  expireMetrics,
  foldTalkers,
  rollUpTalkers,
  expireTalkers,
  resumeRewinds,
  listenToOthers,
  closeMinutes,
  watchVolumes,
  watchSurges,
  saveLearnt,
  ...drainSpools,
];

/** The leases that an engine wants for its rounds. Rounds that every engine does need some of them for a part of their work. */
export const roundLeases: readonly string[] = [
  ...new Set([leaseNames.shapes, leaseNames.health, ...rounds.flatMap(({ lease }) => lease ?? [])]),
];
