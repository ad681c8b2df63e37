import { MetricTake } from '../metrics/metric-take.ts';
import { packToldMetrics } from '../metrics/told-metrics.ts';
import type { Consumer } from './consumer.ts';

/** Most cells of a piece that is stored as one. */
const cellsAtOnce = 20_000;

/** Derived metrics: what is kept of everything that arrives, whatever becomes of it, in packed pieces (`unpackToldMetrics`). */
export const metrics: Consumer<readonly Uint8Array[]> = {
  begin: (plan, { now, currentShape }) => {
    const takes = plan.metrics.map((metric) => new MetricTake(metric));
    return {
      add: ({ delivery: { fleets, rewoundAt }, routed: { arrived } }) => {
        if (arrived.rows === 0) return;
        const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
        for (const take of takes) take.add(arrived, context, rewoundAt);
      },
      effect: () => {
        const pieces: MetricTake[][] = [];
        let room = 0;
        for (const take of takes.filter(({ cells }) => cells.length > 0)) {
          if (take.cells.length > room) {
            pieces.push([]);
            room = cellsAtOnce;
          }
          pieces.at(-1)?.push(take);
          room -= take.cells.length;
        }
        return pieces.length > 0 ? pieces.map(packToldMetrics) : undefined;
      },
    };
  },
  bytesOf: (pieces) => pieces,
};
