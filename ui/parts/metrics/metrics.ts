import type { PartScreen } from '../part-screen.ts';
import { withQuery } from '../with-query.ts';
import { RehearsedMetrics } from './rehearsed-metrics.tsx';

/** Metrics, on their own stage. */
export const metrics: PartScreen = {
  key: 'metrics',
  page: (id) => withQuery('/metrics', { metric: id }),
  form: ({ id, field }) => withQuery('/metrics', { edit: id, field }),
  Rehearsed: RehearsedMetrics,
};
