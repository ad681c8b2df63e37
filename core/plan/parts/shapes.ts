import { metricsShape } from './metrics/metrics-shape.ts';
import { pipelinesShape } from './pipelines/pipelines-shape.ts';
import { posturesShape } from './postures/postures-shape.ts';
import { rankingsShape } from './rankings/rankings-shape.ts';
import { tiersShape } from './tiers/tiers-shape.ts';

/** The shape of each part of a plan by its key, in the order in which a plan is written. */
export const partShapes = {
  pipelines: pipelinesShape,
  tiers: tiersShape,
  metrics: metricsShape,
  rankings: rankingsShape,
  postures: posturesShape,
};
