import { metrics } from './metrics/metrics.ts';
import type { PlanPart } from './part.ts';
import { pipelines } from './pipelines/pipelines.ts';
import { postures } from './postures/postures.ts';
import { rankings } from './rankings/rankings.ts';
import { tiers } from './tiers/tiers.ts';

/** All parts of a plan, in the order in which it is written. */
export const planParts: readonly PlanPart[] = [pipelines, tiers, metrics, rankings, postures];
