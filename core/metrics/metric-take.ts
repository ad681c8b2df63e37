import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { hasValueAt } from '../events/columns.ts';
import { fitted } from '../events/fitted.ts';
import { type AggregateState, newState, reserve } from '../search/aggregate-states.ts';
import { gatherAggregate, numbersOf } from '../search/gather-aggregate.ts';
import { columnsFor, groupRows, type KeyValue } from '../search/group-rows.ts';
import { type Labels, type LabelValue, labelsId, restLabels } from './labels.ts';
import { minute } from './levels.ts';
import type { CompiledMetric } from './metric.ts';
import { mergePoint, newPoints, type Points, reservePoints } from './points.ts';

/** Most cells (a minute of a series) that are gathered apart; what goes beyond them goes into the series of the rest. */
const mostCells = 20_000;

/** Longest value of a label, in characters; longer ones are cut, and those that begin alike are one. */
const longestLabel = 200;

/** A minute of a series. */
export interface Cell {
  /** Start of the minute, in milliseconds. */
  readonly start: number;
  readonly labels: Labels;
}

/** What a metric gathered of some events: the points of each cell. Two of the same metric can be merged. */
export class MetricTake {
  private readonly list: Cell[] = [];
  /** How many events each cell is made of. */
  readonly events: number[] = [];
  readonly points: Points;
  /** By the minute and the id of the labels. */
  private readonly places = new Map<number, Map<string, number>>();

  /** The minutes of series in which anything came. */
  get cells(): readonly Cell[] {
    return this.list;
  }

  constructor(readonly metric: CompiledMetric) {
    this.points = newPoints(metric.aggregates, 16);
  }

  /**
   * Takes in the events of a batch that the metric is about; those from before `since` (milliseconds) were taken in before.
   * Returns how many rows these were.
   */
  add(batch: EventBatch, context: ConditionContext, since = Number.NEGATIVE_INFINITY): number {
    const { metric } = this;
    const rows = this.rowsOf(batch, context).filter((row) => (batch.time[row] as number) >= since);
    if (rows.length === 0) return 0;
    const by = metric.keys.map(({ field }) => field);
    const { groups, keys } = groupRows(batch, rows, { by, every: minute, tier: '' });
    const events = eventsOf(batch, rows, groups, keys.length);
    const gathered: Points = {
      states: metric.aggregates.map((aggregate) => {
        const state: AggregateState = newState(aggregate);
        reserve(state, keys.length);
        gatherAggregate(state, aggregate, batch, { rows, groups, count: keys.length });
        return state;
      }),
      filled: new Uint8Array(keys.length).fill(1),
    };
    keys.forEach(({ bucket, values }, from) => {
      const place = this.placeOf({ start: bucket, labels: this.labelsOf(values) });
      mergePoint(this.points, place, gathered, from);
      this.events[place] = (this.events[place] ?? 0) + (events[from] as number);
    });
    return rows.length;
  }

  /** Adds what was gathered elsewhere for the same metric. */
  merge({
    cells,
    events,
    points,
  }: Pick<MetricTake, 'cells' | 'points'> & { readonly events: ArrayLike<number> }): void {
    cells.forEach((cell, from) => {
      const place = this.placeOf(cell);
      mergePoint(this.points, place, points, from);
      this.events[place] = (this.events[place] ?? 0) + (events[from] ?? 0);
    });
  }

  /** Rows that meet the condition and have what is measured. */
  rowsOf(batch: EventBatch, context: ConditionContext): Int32Array {
    const { when, measure, field } = this.metric;
    const mask = when.test(batch, context);
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
    return chosen(mask);
  }

  /** What stands for the values of the keys. */
  labelsOf(values: readonly KeyValue[]): Labels {
    return values.map((value, i): LabelValue => {
      const { through } = this.metric.keys[i] ?? {};
      const told = through && value !== null ? through(value) : value;
      return told !== null && told.length > longestLabel ? fitted(told.slice(0, 2 * longestLabel), longestLabel) : told;
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

function chosen(mask: Uint8Array): Int32Array {
  let count = 0;
  for (let row = 0; row < mask.length; row++) count += mask[row] as number;
  const rows = new Int32Array(count);
  let at = 0;
  for (let row = 0; row < mask.length; row++) if (mask[row] === 1) rows[at++] = row;
  return rows;
}
