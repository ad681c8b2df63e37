import type { Condition } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { fnvBasis, fnvPrime } from '../events/text-table.ts';
import { numbersOf } from '../summaries/gather-aggregate.ts';
import { type KeyCodes, type KeyValue, keyCodes, renumber } from '../summaries/key-codes.ts';
import type { CompiledRanking } from './compiled-ranking.ts';
import { fiveMinutes, stepStart } from './talker-levels.ts';

/** Combinations of keys that have a place each in a table: what is always little, and for each row. */
const smallTable = 256;
const tableForRow = 4;
/** Largest number that is summed: what is above it would swallow what is small. */
const mostSummed = 1e15;
/** Stretches of rows that are looked at one by one; more of them are put in order before. */
const mostRuns = 16;

/** What those who contribute to five minutes come to, each at a place of its own; at many places nothing came. */
export interface StepAmounts {
  /** Where the five minutes begin, in milliseconds. */
  readonly start: number;
  readonly amounts: Float64Array;
  /** The values of the keys of the one at a place. */
  readonly valuesOf: (place: number) => readonly KeyValue[];
  /** Hash (32 bits) of them, the same in every batch. */
  readonly hashOf: (place: number) => number;
}

/** A key with a number for each row, from 0 up to, not including, `count`; `codes` is absent where all rows have it alike. */
interface KeyColumn extends Pick<KeyCodes, 'count' | 'value' | 'hash'> {
  readonly codes: Int32Array | undefined;
}

/** A stretch of rows that belong to the same five minutes: from row `from` up to, not including, `to`. */
interface Run {
  /** Where the five minutes begin, in milliseconds. */
  readonly start: number;
  readonly from: number;
  readonly to: number;
}

/** A batch as rankings look at it: what several of them ask for alike is worked out once. */
export class RankedBatch {
  private readonly runs: readonly Run[];
  /** The rows in the order of their five minutes, where times go to and fro; undefined: as they are. */
  private readonly order: Int32Array | undefined;
  private readonly columns = new Map<string, KeyColumn>();
  private readonly amounts = new Map<string, Float64Array | undefined>();
  private readonly chosen = new Map<string, Uint8Array | undefined>();
  private readonly combined = new Map<string, Int32Array | Float64Array | undefined>();

  /** Events from before `since` (milliseconds) are passed over. */
  constructor(
    private readonly batch: EventBatch,
    private readonly context: ConditionContext,
    private readonly since = 0,
  ) {
    const runs = runsOf(batch.time);
    this.order = runs.length > mostRuns ? orderOf(batch.time, runs) : undefined;
    this.runs = this.order ? runsOf(taken(batch.time, this.order)) : runs;
  }

  /** When the events are ranked, in milliseconds. */
  get now(): number {
    return this.context.now;
  }

  /** What contributes to a ranking, by five minutes; the same five minutes may come more than once. */
  amountsOf(ranking: CompiledRanking): readonly StepAmounts[] {
    const amounts = this.chosenAmounts(ranking);
    if (!amounts) return [];
    const keys = ranking.by.map((field) => this.column(field));
    const places = keys.reduce((product, { count }) => product * count, 1);
    const codes = this.codes(ranking, keys, places);
    return this.runs.map((run) =>
      places <= smallTable + tableForRow * (run.to - run.from)
        ? {
            start: run.start,
            amounts: summed(codes, amounts, run, places),
            ...described(keys, splitter(keys)),
          }
        : sparse(keys, codes, amounts, run),
    );
  }

  /** For each row one number for all keys; undefined where there is only one. */
  private codes(
    { by }: CompiledRanking,
    keys: readonly KeyColumn[],
    places: number,
  ): Int32Array | Float64Array | undefined {
    const id = JSON.stringify(by);
    if (this.combined.has(id)) return this.combined.get(id);
    const codes = combine(keys, this.batch.rows, places);
    this.combined.set(id, codes);
    return codes;
  }

  private column(field: string): KeyColumn {
    let column = this.columns.get(field);
    if (!column) {
      column = dense(keyCodes(this.batch, field, ''), this.batch.rows);
      if (column.codes && this.order) column = { ...column, codes: taken(column.codes, this.order) };
      this.columns.set(field, column);
    }
    return column;
  }

  /** What each row is worth to a ranking, nothing where it is not of it; undefined where none is. */
  private chosenAmounts(ranking: CompiledRanking): Float64Array | undefined {
    const { when, measure, of } = ranking;
    const id = `${measure} ${of} ${when.text}`;
    if (this.amounts.has(id)) return this.amounts.get(id);
    const mask = this.maskOf(when);
    const worth = mask?.includes(1) === false ? undefined : this.worthOfRows(measure, of);
    if (worth && mask) for (let row = 0; row < worth.length; row++) if (mask[row] === 0) worth[row] = 0;
    const ordered = worth && this.order ? taken(worth, this.order) : worth;
    this.amounts.set(id, ordered);
    return ordered;
  }

  private worthOfRows(measure: CompiledRanking['measure'], of: string): Float64Array | undefined {
    const { weight, size, rows } = this.batch;
    if (measure === 'events') return new Float64Array(weight);
    const worth = new Float64Array(rows);
    const values = measure === 'bytes' ? size : numbersOf(this.batch, of);
    if (!values) return undefined;
    for (let row = 0; row < rows; row++) {
      const value = values[row] as number;
      // What is no number is not above zero either.
      if (value > 0 && value <= mostSummed) worth[row] = value * (weight[row] as number);
    }
    return worth;
  }

  /** Which rows meet a condition; undefined for all. */
  private maskOf(when: Condition): Uint8Array | undefined {
    if (this.chosen.has(when.text)) return this.chosen.get(when.text);
    const mask = this.choose(when);
    this.chosen.set(when.text, mask);
    return mask;
  }

  private choose(when: Condition): Uint8Array | undefined {
    const { batch, since } = this;
    if (when.text === '' && since === 0) return undefined;
    const mask = when.test(batch, this.context);
    if (since > 0) for (let row = 0; row < mask.length; row++) if ((batch.time[row] as number) < since) mask[row] = 0;
    return mask;
  }
}

/** A key with as many numbers as there are values, in the order in which they come. */
function dense({ codes, shift, count, value, hash }: KeyCodes, rows: number): KeyColumn {
  if (!codes || count === 1) return { codes: undefined, count: 1, value, hash };
  const placeOf = new Int32Array(count);
  const known: number[] = [];
  const places = new Int32Array(rows);
  for (let row = 0; row < rows; row++) {
    const code = (codes[row] as number) + shift;
    let place = placeOf[code] as number;
    if (place === 0) placeOf[code] = place = known.push(code);
    places[row] = place - 1;
  }
  return {
    codes: places,
    count: known.length,
    value: (place) => value(known[place] ?? 0),
    hash: (place) => hash(known[place] ?? 0),
  };
}

/** The stretches of rows by the five minutes that they lie in. */
function runsOf(time: Float64Array): readonly Run[] {
  const runs: Run[] = [];
  let [start, from] = [stepStart(fiveMinutes, time[0] ?? 0), 0];
  for (let row = 1; row < time.length; row++) {
    const at = time[row] as number;
    if (at >= start && at < start + fiveMinutes.step) continue;
    runs.push({ start, from, to: row });
    [start, from] = [stepStart(fiveMinutes, at), row];
  }
  if (time.length > 0) runs.push({ start, from, to: time.length });
  return runs;
}

/** The rows in the order of the five minutes that they lie in (a counting sort). */
function orderOf(time: Float64Array, runs: readonly Run[]): Int32Array {
  const starts = [...new Set(runs.map(({ start }) => start))].sort((a, b) => a - b);
  const sizes = new Map(starts.map((start) => [start, 0]));
  for (const { start, from, to } of runs) sizes.set(start, (sizes.get(start) ?? 0) + to - from);
  let next = 0;
  const places = new Map<number, number>();
  for (const start of starts) {
    places.set(start, next);
    next += sizes.get(start) ?? 0;
  }
  const order = new Int32Array(time.length);
  for (const { start, from, to } of runs) {
    let place = places.get(start) ?? 0;
    for (let row = from; row < to; row++) order[place++] = row;
    places.set(start, place);
  }
  return order;
}

function taken<Values extends Float64Array | Int32Array>(values: Values, order: Int32Array): Values {
  const ordered = values.slice() as Values;
  for (let i = 0; i < order.length; i++) ordered[i] = values[order[i] as number] as number;
  return ordered;
}

/** For each row one number for all keys; undefined where all keys are alike in all rows. */
function combine(keys: readonly KeyColumn[], rows: number, places: number): Int32Array | Float64Array | undefined {
  const [first, ...more] = keys.filter(({ codes }) => codes);
  if (!first?.codes || more.length === 0) return first?.codes;
  const combined = places < 2 ** 31 ? new Int32Array(first.codes) : new Float64Array(first.codes);
  let range = first.count;
  for (const { codes, count } of more) {
    if (!codes) continue;
    if (range * count > Number.MAX_SAFE_INTEGER) range = renumber(combined);
    for (let row = 0; row < rows; row++) combined[row] = (combined[row] as number) * count + (codes[row] as number);
    range *= count;
  }
  return combined;
}

function summed(
  codes: Int32Array | Float64Array | undefined,
  amounts: Float64Array,
  { from, to }: Run,
  places: number,
): Float64Array {
  const sums = new Float64Array(places);
  if (codes)
    for (let row = from; row < to; row++) {
      const code = codes[row] as number;
      sums[code] = (sums[code] as number) + (amounts[row] as number);
    }
  else for (let row = from; row < to; row++) sums[0] = (sums[0] as number) + (amounts[row] as number);
  return sums;
}

/** Where there are far more combinations than rows, only those that occur have a place; a row of each says what it is. */
function sparse(
  keys: readonly KeyColumn[],
  codes: Int32Array | Float64Array | undefined,
  amounts: Float64Array,
  { start, from, to }: Run,
): StepAmounts {
  const places = new Map<number, number>();
  const sums: number[] = [];
  const firstRows: number[] = [];
  for (let row = from; row < to; row++) {
    const amount = amounts[row] as number;
    if (amount === 0) continue;
    const code = codes ? (codes[row] as number) : 0;
    const place = places.get(code);
    if (place === undefined) {
      places.set(code, sums.push(amount) - 1);
      firstRows.push(row);
    } else sums[place] = (sums[place] as number) + amount;
  }
  const codeAt = (place: number, key: number): number => {
    const { codes: of } = keys[key] as KeyColumn;
    return of ? (of[firstRows[place] as number] as number) : 0;
  };
  return { start, amounts: Float64Array.from(sums), ...described(keys, codeAt) };
}

/** How the ones at places are named, by the number that each key (by its place among the keys) has there. */
function described(
  keys: readonly KeyColumn[],
  codeAt: (place: number, key: number) => number,
): Pick<StepAmounts, 'valuesOf' | 'hashOf'> {
  return {
    valuesOf: (place) => keys.map(({ value }, key) => value(codeAt(place, key))),
    hashOf: (place) => {
      let hash = fnvBasis;
      for (let key = 0; key < keys.length; key++)
        hash = Math.imul(hash ^ (keys[key] as KeyColumn).hash(codeAt(place, key)), fnvPrime);
      return hash;
    },
  };
}

/** Tells the number of a key in a combined one. */
function splitter(keys: readonly KeyColumn[]): (combined: number, key: number) => number {
  if (keys.length === 1) return (combined) => combined;
  const strides = keys.map((_, key) => keys.slice(key + 1).reduce((product, { count }) => product * count, 1));
  return (combined, key) => Math.floor(combined / (strides[key] as number)) % (keys[key] as KeyColumn).count;
}
