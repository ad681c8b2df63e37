import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { gather } from '../events/select.ts';
import { minute } from '../events/time-units.ts';
import { allColumns, type WantedColumns } from '../segments/segment.ts';
import type { CompiledMetric } from './compiled-metric.ts';
import { MetricAccumulator } from './metric-accumulator.ts';

/** How much time is gathered in one take, so that its cells have room: of metrics of many series a minute. */
const stretch = 10 * minute;
const manySeries = 1_000;

/** Which stored events are taken in: those that happened from `from` up to, not including, `to` (milliseconds). */
export interface FillBounds {
  readonly from: number;
  readonly to: number;
}

/** The columns that a metric needs of stored events. */
export function columnsToFill({ when, field, keys }: CompiledMetric): WantedColumns {
  const names = [...when.attributes, field, ...keys.map((key) => key.field)].map((name) => name.toLowerCase());
  return { ...allColumns, attributes: new Set(names), body: when.body || names.includes('body') };
}

/** Gathers what a metric would have kept of stored events, by stretches of time. */
export class FillAccumulators {
  private readonly accumulators = new Map<number, MetricAccumulator>();
  private readonly stretch: number;

  constructor(
    private readonly metric: CompiledMetric,
    private readonly bounds: FillBounds,
  ) {
    this.stretch = metric.limit > manySeries ? minute : stretch;
  }

  /** Takes in the stored events of a batch that are within the bounds. */
  add(batch: EventBatch, context: ConditionContext): void {
    const { from, to } = this.bounds;
    const rowsOf = new Map<number, number[]>();
    for (let row = 0; row < batch.rows; row++) {
      const time = batch.time[row] as number;
      if (time < from || time >= to) continue;
      const start = Math.floor(time / this.stretch);
      const rows = rowsOf.get(start);
      if (rows) rows.push(row);
      else rowsOf.set(start, [row]);
    }
    for (const [start, rows] of rowsOf) {
      let accumulator = this.accumulators.get(start);
      if (!accumulator) this.accumulators.set(start, (accumulator = new MetricAccumulator(this.metric)));
      accumulator.add(gather(batch.source, [{ batch, rows: Int32Array.from(rows) }]), context);
    }
  }

  /** What came of it, each a delta of its own. */
  list(): readonly MetricAccumulator[] {
    return [...this.accumulators.values()].filter(({ cells }) => cells.length > 0);
  }
}
