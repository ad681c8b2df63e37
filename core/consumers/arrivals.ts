import { ViewAccumulator, type ViewDelta } from '../arrivals/view-accumulator.ts';
import { stretchOf } from '../events/stretch.ts';
import type { Consumer } from './consumer.ts';

/** What a group brought for those who watch arrivals. */
export interface ArrivalDeltas {
  readonly views: readonly ViewDelta[];
  /** The share of events that was looked at. */
  readonly lookedAt: number;
}

/** What comes in, before any exclusion, for those who watch it now; history that is brought in is not. */
export const arrivals: Consumer<ArrivalDeltas> = {
  begin: (_plan, { watched, now, currentShape }) => {
    if (!watched || watched.views.length === 0) return { add: () => {}, effect: () => undefined };
    const { share, random } = watched;
    const lookedAt = share.current;
    let looking = 0;
    const lines = share.linesAt(performance.now());
    const accumulators = watched.views.map(({ id, condition }) => new ViewAccumulator(id, condition, lines, random));
    return {
      add: ({ delivery: { backfill, fleets }, routed }) => {
        const { arrived } = routed;
        if (backfill || arrived.rows === 0) return;
        const start = performance.now();
        // Of few rows some at least, by chance, so that small deliveries count as much as large ones.
        const wanted = arrived.rows * lookedAt;
        const rows = Math.min(arrived.rows, Math.floor(wanted) + (random() < wanted % 1 ? 1 : 0));
        if (rows > 0) {
          const from = Math.floor(random() * (arrived.rows - rows + 1));
          const stretch = stretchOf(arrived, from, from + rows);
          const context = { now, ...(currentShape && { currentShape }), ...(fleets && { fleets }) };
          for (const accumulator of accumulators) accumulator.add(routed, stretch, from, 1 / lookedAt, context);
        }
        looking += performance.now() - start;
      },
      effect: () => {
        const start = performance.now();
        const views = accumulators.flatMap((accumulator) => accumulator.delta() ?? []);
        const end = performance.now();
        share.settle(looking + end - start, end);
        return views.length > 0 ? { views, lookedAt } : undefined;
      },
    };
  },
};
