import { countUp } from '../events/select.ts';
import { median, medianDeviation } from '../sketches/exact-quantile.ts';
import { type Candidate, Candidates, mostWeighed } from './candidates.ts';
import type { ComparedEvents } from './compared-events.ts';
import { jackknifed, lessGroup } from './jackknife.ts';
import type { Measure } from './measure.ts';
import { type Sums, sumsByValue, sumsOf, sumsOfGroups } from './sums.ts';

/** A value of a field. */
export interface FieldValue {
  readonly field: string;
  readonly value: string;
}

/** Events that account for a part of a change. */
export interface Cause {
  /** What they have in common: one value, or two or three together. */
  readonly where: readonly FieldValue[];
  /** Their own figure before and since, of times of equal length; null where there were none. */
  readonly before: number | null;
  readonly since: number | null;
  /** The part of the whole change that would not be if they were as before; below 0 where they go against it. */
  readonly share: number;
  /** Half of the 95 % band of `share`. */
  readonly band: number;
  /** What the whole figure would be if they were as before. */
  readonly without: number;
  /** Values that nearly all of these events have and few others. */
  readonly also: readonly FieldValue[];
}

/** What accounts for a change. */
export interface Explanation {
  /**
   * `values`: the causes explain it. `spread`: no small set of values explains it. `usual`: the figure is within its normal range.
   * `nothing`: too few events to compare.
   */
  readonly verdict: 'values' | 'spread' | 'usual' | 'nothing';
  /** The figure of the time since the change, and its median over the times before. */
  readonly before: number;
  readonly since: number;
  readonly causes: readonly Cause[];
  /** The part of the change that the causes leave. */
  readonly rest: number;
  /** Where no few values do: how many values of which field it takes for most of it; absent where no field has them. */
  readonly needed?: { readonly field: string; readonly values: number };
  /** What was looked at. */
  readonly fields: number;
  readonly values: number;
  readonly combinations: number;
}

/** Most causes of one change. */
const mostCauses = 6;
/** What a value takes along must be so much more than its part of the events. */
const leastExcess = 0.1;
/** What is left of a change is looked at while it is this part of it. */
const leastRest = 0.06;
/** Standard errors beyond which something is not by chance: thousands of values are compared. */
const beyondChance = 4.5;
/** Deviations of the times before within which a figure is usual. */
const usualDeviations = 3;
/** A figure that moved by less than this part is as usual, however steady it was; where nothing tells that it moved at some time, this. */
const leastMove = 0.03;
const leastMoveOfNone = 0.1;

/**
 * Finds the values, pairs and triples of values that account for the change of a figure. A value is worth what it takes along, beyond
 * what its part of the events would (after the explanatory power and the surprise of R. Bhagwan and others, Adtributor, NSDI 2014);
 * one that was found is set aside with its events before the next is looked for, so that nothing is told twice. Whether a combination
 * or its larger part is meant is told by where within it the change lies (after Z. Li and others, Squeeze, ISSRE 2019). `hasBegun`:
 * whether it is known that the figure changed between both times.
 */
export function causesOf(events: ComparedEvents, measure: Measure, hasBegun: boolean): Explanation {
  return new CauseSearch(events, measure, hasBegun ? leastMove : leastMoveOfNone).explain();
}

class CauseSearch {
  private readonly candidates: Candidates;

  constructor(
    private readonly events: ComparedEvents,
    private readonly measure: Measure,
    private readonly leastMove: number,
  ) {
    this.candidates = new Candidates(events, measure);
  }

  explain(): Explanation {
    const { events, measure } = this;
    let rows = countUp(events.rows);
    const total = sumsOf(events, rows, measure.width);
    const since = measure.figure(total.since);
    const usual = this.usualFigure();
    const base = { before: usual.middle, since, fields: events.fields.length, causes: [], rest: 1 };
    if (Number.isNaN(since - usual.middle) || total.rowsBefore + total.rowsSince === 0)
      return { ...base, ...this.candidates.looked, verdict: 'nothing' };
    // All of it is new, or gone.
    if (total.rowsBefore === 0 || total.rowsSince === 0)
      return { ...base, ...this.candidates.looked, verdict: 'spread' };
    const change = since - measure.figure(total.before);
    if (this.isUsual(since, usual) || !this.isBeyondChance(rows, total))
      return { ...base, ...this.candidates.looked, verdict: 'usual' };
    const causes: Cause[] = [];
    let left = total;
    while (causes.length < mostCauses) {
      const moved = this.moveOf(left);
      if (Number.isNaN(moved) || Math.abs(moved) < leastRest * Math.abs(change)) break;
      const best = this.candidates.best(rows, left);
      if (!best) break;
      const error = this.candidates.errorOf(best, rows, left);
      const excess = (best.share - best.part) * Math.abs(moved / change);
      if (excess < (causes.length === 0 ? leastExcess : leastRest) || best.share - best.part < beyondChance * error)
        break;
      causes.push(this.cause(best, { rows, total, scale: moved / change, error }));
      rows = rows.filter((row) => !this.candidates.has(best, row));
      left = sumsOf(events, rows, measure.width);
    }
    const rest = this.moveOf(left) / change;
    if (causes.length > 0)
      return { ...base, ...this.candidates.looked, verdict: 'values', causes, rest: Number.isNaN(rest) ? 0 : rest };
    const needed = this.needed(rows, total);
    return { ...base, ...this.candidates.looked, verdict: 'spread', ...(needed && { needed }) };
  }

  /** The median of the figure over the times before, and how much it usually differs from it; undefined of a single time. */
  private usualFigure(): { readonly middle: number; readonly deviation?: number } {
    const { events, measure } = this;
    const groupOf = (row: number): number => (events.period[row] as number) - 1;
    const { width } = measure;
    const figures = sumsOfGroups(events, countUp(events.rows), { groupOf, groups: events.periods, width })
      // What was taken as a part of the mean is a whole of its own here.
      .map(({ before }) => measure.figure(before.map((sum) => sum * events.periods)))
      .filter((figure) => !Number.isNaN(figure));
    const middle = median(figures);
    if (figures.length < 3) return { middle };
    return { middle, deviation: medianDeviation(figures, middle) };
  }

  private isUsual(
    since: number,
    { middle, deviation = 0 }: { readonly middle: number; readonly deviation?: number },
  ): boolean {
    return Math.abs(since - middle) <= Math.max(usualDeviations * deviation, this.leastMove * Math.abs(middle));
  }

  private moveOf({ before, since }: Sums): number {
    return this.measure.figure(since) - this.measure.figure(before);
  }

  private isBeyondChance(rows: Int32Array, whole: Sums): boolean {
    const moves = this.candidates.groupSums(rows).map((group) => this.moveOf(lessGroup(whole, group)));
    return Math.abs(this.moveOf(whole)) > beyondChance * jackknifed(moves);
  }

  private cause(
    best: Candidate,
    of: { readonly rows: Int32Array; readonly total: Sums; readonly scale: number; readonly error: number },
  ): Cause {
    const { measure } = this;
    const { rows, total, scale, error } = of;
    const figure = (sums: Float64Array): number | null => {
      const value = measure.figure(sums);
      return Number.isNaN(value) ? null : value;
    };
    return {
      where: best.codes.map((code) => this.valueOf(code)),
      before: figure(best.sums.before),
      since: figure(best.sums.since),
      share: best.share * scale,
      band: twoSided * error * Math.abs(scale),
      without: this.candidates.withoutOf(best.sums, total),
      also: this.alsoOf(best, rows),
    };
  }

  private valueOf({ field, code }: { readonly field: number; readonly code: number }): FieldValue {
    const { name, values } = this.events.fields[field] as ComparedEvents['fields'][number];
    return { field: name, value: values[code] as string };
  }

  /** Values that nearly all of a candidate's events since the change have, and few others. */
  private alsoOf(candidate: Candidate, rows: Int32Array): readonly FieldValue[] {
    const { events } = this;
    const moved = this.moveOf(candidate.sums);
    // Of what ceased, the events before are looked at.
    const isOf = (row: number): boolean => (events.period[row] === 0) === moved >= 0;
    const mine = this.candidates.rowsOf(candidate, rows).filter(isOf);
    const others = rows.filter((row) => isOf(row) && !this.candidates.has(candidate, row));
    return events.fields.flatMap((field, index) => {
      if (candidate.codes.some((code) => code.field === index) || mine.length === 0) return [];
      const counts = countsOf(field.codes, mine);
      const [code, count] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [0, 0];
      if (code === 0 || count < nearlyAll * mine.length) return [];
      const among = countsOf(field.codes, others).get(code) ?? 0;
      return among > others.length / 2 ? [] : [this.valueOf({ field: index, code })];
    });
  }

  /** How many values of the field with the fewest it takes for most of a change. */
  private needed(rows: Int32Array, whole: Sums): Explanation['needed'] {
    const needed = this.events.fields.flatMap(({ name }, field) => {
      const sums = sumsByValue(this.events, { rows, field, width: this.measure.width, most: mostWeighed });
      const shares = [...sums].map(
        ([code, ofValue]) => this.candidates.candidate([{ field, code }], ofValue, whole).share,
      );
      let sum = 0;
      const values = shares.sort((a, b) => b - a).findIndex((share) => (sum += share) >= most) + 1;
      // What all events have alike explains nothing.
      return values > 1 ? [{ field: name, values }] : [];
    });
    return needed.sort((a, b) => a.values - b.values)[0];
  }
}

/** So much of a change is most of it, and so many of some events nearly all of them. */
const most = 0.8;
const nearlyAll = 0.92;
/** Standard errors of half a band of 95 %. */
const twoSided = 1.96;

function countsOf(codes: Int32Array, rows: Int32Array): ReadonlyMap<number, number> {
  const counts = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const code = codes[rows[i] as number] as number;
    counts.set(code, (counts.get(code) ?? 0) + 1);
  }
  return counts;
}
