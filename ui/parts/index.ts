import { metrics } from './metrics/metrics.ts';
import type { PartScreen } from './part-screen.ts';
import { pipelines } from './pipelines.ts';
import { postures } from './postures/postures.ts';
import { rankings } from './rankings/rankings.ts';
import { tiers } from './tiers/tiers.ts';

/** The screens of all parts of a plan, in the order in which it is written. */
export const partScreens: readonly PartScreen[] = [pipelines, tiers, metrics, rankings, postures];
