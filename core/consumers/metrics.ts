import { MetricAccumulator } from '../metrics/metric-accumulator.ts';
import { packMetricDeltas } from '../metrics/metric-delta.ts';
import type { Consumer } from './consumer.ts';

/** Most cells of a piece that is stored as one. */
const cellsAtOnce = 20_000;

/** Derived metrics: what is kept of everything that arrives, whatever becomes of it, in packed pieces (`unpackMetricDeltas`). */
export const metrics: Consumer<readonly Uint8Array[]> = {
  begin: (plan, { now, currentShape }) => {
    const accumulators = plan.metrics.map((metric) => new MetricAccumulator(metric));
    return {
      add: ({ delivery: { fleets, rewoundAt }, routed: { arrived } }) => {
        if (arrived.rows === 0) return;
        const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
        for (const accumulator of accumulators) accumulator.add(arrived, context, rewoundAt);
      },
      effect: () => {
        const pieces: MetricAccumulator[][] = [];
        let room = 0;
        for (const accumulator of accumulators.filter(({ cells }) => cells.length > 0)) {
          if (accumulator.cells.length > room) {
            pieces.push([]);
            room = cellsAtOnce;
          }
          pieces.at(-1)?.push(accumulator);
          room -= accumulator.cells.length;
        }
        return pieces.length > 0 ? pieces.map(packMetricDeltas) : undefined;
      },
    };
  },
  bytesOf: (pieces) => pieces,
};
