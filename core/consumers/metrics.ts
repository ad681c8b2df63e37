import { MetricTake } from '../metrics/metric-take.ts';
import { packToldMetrics } from '../metrics/told-metrics.ts';
import type { Consumer } from './consumer.ts';

/** Derived metrics: what is kept of everything that arrives, whatever becomes of it, packed (`unpackToldMetrics`). */
export const metrics: Consumer<Uint8Array> = {
  begin: (plan, { now, currentShape }) => {
    const takes = plan.metrics.map((metric) => new MetricTake(metric));
    return {
      add: ({ delivery: { fleets, rewoundAt }, routed: { arrived } }) => {
        if (arrived.rows === 0) return;
        const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
        for (const take of takes) take.add(arrived, context, rewoundAt);
      },
      effect: () => {
        const some = takes.filter(({ cells }) => cells.length > 0);
        return some.length > 0 ? packToldMetrics(some) : undefined;
      },
    };
  },
  bytesOf: (packed) => [packed],
};
