import type { ConditionContext } from '../conditions/evaluate.ts';
import { markedRows } from '../conditions/marked.ts';
import type { EventBatch } from '../events/batch.ts';
import { hasValueAt } from '../events/columns.ts';
import { fitted } from '../events/fitted.ts';
import { minute } from '../events/time-units.ts';
import { type AggregateState, newState, reserve } from '../summaries/aggregate-states.ts';
import { gatherAggregate, numbersOf } from '../summaries/gather-aggregate.ts';
import { groupRows } from '../summaries/group-rows.ts';
import { columnsFor, type KeyValue } from '../summaries/key-codes.ts';
import type { CompiledMetric } from './compiled-metric.ts';
import { type Labels, type LabelValue, labelsId, restLabels } from './labels.ts';
import { mergePoint, newPoints, type Points, reservePoints } from './points.ts';

/** Most cells (a minute of a series) that are gathered apart; what goes beyond them goes into the series of the rest. */
const mostCells = 20_000;

/** Longest value of a label, in characters; longer ones are cut, and those that begin alike are one. */
const longestLabel = 200;

/** A minute of a series, or a longer time. */
export interface Cell {
  /** Its start, in milliseconds. */
  readonly start: number;
  readonly labels: Labels;
}

/** The rows of a batch that a metric is about, by the cell that each belongs to. */
export interface AccumulatedRows {
  readonly batch: EventBatch;
  readonly rows: Int32Array;
  /** `groups[i]` is the place of the cell of `rows[i]` among `cells`. */
  readonly groups: Int32Array;
  readonly cells: readonly Cell[];
  /** How many events the rows of each cell stand for. */
  readonly events: Float64Array;
}

/** What a metric gathered of some events: the points of each cell. Two of the same metric can be merged. */
export class MetricAccumulator {
  private readonly list: Cell[] = [];
  /** How many events each cell is made of. */
  readonly events: number[] = [];
  readonly points: Points;
  /** By the start of the cell and the id of its labels. */
  private readonly places = new Map<number, Map<string, number>>();

  /** `every` is the length of a cell in milliseconds, whole minutes. */
  constructor(
    readonly metric: CompiledMetric,
    private readonly every = minute,
  ) {
    this.points = newPoints(metric.aggregates, 16);
  }

  /** The minutes of series in which anything came. */
  get cells(): readonly Cell[] {
    return this.list;
  }

  /**
   * Takes in the events of a batch that the metric is about; those from before `since` (milliseconds) were taken in before.
   * Returns which rows these were; undefined for none.
   */
  add(batch: EventBatch, context: ConditionContext, since = Number.NEGATIVE_INFINITY): AccumulatedRows | undefined {
    const accumulated = this.accumulated(batch, this.rowsOf(batch, context, since));
    if (!accumulated) return undefined;
    const { rows, groups, cells, events } = accumulated;
    const gathered: Points = {
      states: this.metric.aggregates.map((aggregate) => {
        const state: AggregateState = newState(aggregate);
        reserve(state, cells.length);
        gatherAggregate(state, aggregate, batch, { rows, groups, count: cells.length });
        return state;
      }),
      filled: new Uint8Array(cells.length).fill(1),
    };
    this.merge({ cells, events, points: gathered });
    return accumulated;
  }

  /** Adds what was gathered elsewhere for the same metric. */
  merge({
    cells,
    events,
    points,
  }: Pick<MetricAccumulator, 'cells' | 'points'> & { readonly events: ArrayLike<number> }): void {
    cells.forEach((cell, from) => {
      const place = this.placeOf(cell);
      mergePoint(this.points, place, points, from);
      this.events[place] = (this.events[place] ?? 0) + (events[from] ?? 0);
    });
  }

  private accumulated(batch: EventBatch, rows: Int32Array): AccumulatedRows | undefined {
    if (rows.length === 0) return undefined;
    const by = this.metric.keys.map(({ field }) => field);
    const { groups, keys } = groupRows(batch, rows, { by, every: this.every, tier: '' });
    const cells = keys.map(({ bucket, values }) => ({ start: bucket, labels: this.labelsOf(values) }));
    return { batch, rows, groups, cells, events: eventsOf(batch, rows, groups, cells.length) };
  }

  /** Rows that meet the condition, have what is measured, and are not from before `since`. */
  private rowsOf(batch: EventBatch, context: ConditionContext, since: number): Int32Array {
    const { when, measure, field } = this.metric;
    const mask = when.test(batch, context);
    if (since > 0) for (let row = 0; row < mask.length; row++) if ((batch.time[row] as number) < since) mask[row] = 0;
    if (measure.field === 'number') {
      const numbers = numbersOf(batch, field);
      if (!numbers) return new Int32Array(0);
      for (let row = 0; row < mask.length; row++) {
        const value = numbers[row] as number;
        if (value - value !== 0) mask[row] = 0;
      }
    } else if (measure.field === 'value') {
      const columns = columnsFor(batch, field);
      if (!columns) return new Int32Array(0);
      for (let row = 0; row < mask.length; row++) if (!hasValueAt(columns, row)) mask[row] = 0;
    }
    return markedRows(mask);
  }

  /** What stands for the values of the keys. */
  private labelsOf(values: readonly KeyValue[]): Labels {
    return values.map((value, i): LabelValue => {
      const { through } = this.metric.keys[i] ?? {};
      const text = through && value !== null ? through(value) : value;
      return text !== null && text.length > longestLabel ? fitted(text.slice(0, 2 * longestLabel), longestLabel) : text;
    });
  }

  private placeOf({ start, labels }: Cell): number {
    let places = this.places.get(start);
    if (!places) this.places.set(start, (places = new Map()));
    const id = labelsId(labels);
    const known = places.get(id);
    if (known !== undefined) return known;
    if (this.list.length < mostCells) return this.newPlace(places, id, { start, labels });
    const rest = restLabels(labels.length);
    const restId = labelsId(rest);
    return places.get(restId) ?? this.newPlace(places, restId, { start, labels: rest });
  }

  private newPlace(places: Map<string, number>, id: string, cell: Cell): number {
    const place = this.list.push(cell) - 1;
    reservePoints(this.points, place + 1);
    places.set(id, place);
    return place;
  }
}

/** How many events the rows of each group stand for. */
function eventsOf({ weight }: EventBatch, rows: Int32Array, groups: Int32Array, count: number): Float64Array {
  const events = new Float64Array(count);
  for (let i = 0; i < rows.length; i++) {
    const group = groups[i] as number;
    events[group] = (events[group] as number) + (weight[rows[i] as number] as number);
  }
  return events;
}
