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

/** Events that explain part of a change. */
export interface Cause {
  /** What they have in common: one value, or two or three together. */
  readonly where: readonly FieldValue[];
  /** Their own figure before and since, for periods of equal length; null without events. */
  readonly before: number | null;
  readonly since: number | null;
  /** The fraction of the change that disappears if these events are replaced by those from before; negative if they counteract it. */
  readonly share: number;
  /** Half of the 95 % confidence interval of `share`. */
  readonly band: number;
  /** The whole figure after that replacement. */
  readonly without: number;
  /** Values that nearly all of these events have and few others. */
  readonly also: readonly FieldValue[];
}

/** What explains a change. */
export interface Explanation {
  /**
   * `values`: the causes explain it. `spread`: no small set of values explains it. `usual`: the figure is within its normal range.
   * `nothing`: too few events to compare.
   */
  readonly verdict: 'values' | 'spread' | 'usual' | 'nothing';
  /** The figure since the change, and its median over the periods before. */
  readonly before: number;
  readonly since: number;
  readonly causes: readonly Cause[];
  /** The fraction of the change that remains without the causes. */
  readonly rest: number;
  /** For `spread`: how many values of which field explain 80 % of the change; absent if no field does. */
  readonly needed?: { readonly field: string; readonly values: number };
  /** How much was tested. */
  readonly fields: number;
  readonly values: number;
  readonly combinations: number;
}

/** Most causes of one change. */
const mostCauses = 6;
/** A first cause must explain this much more of the change than its part of the events. */
const leastExcess = 0.1;
/** The search stops when less than this fraction of the change remains. */
const leastRest = 0.06;
/** A cause must be this many standard errors above chance, because thousands of values are tested. */
const beyondChance = 4.5;
/** A figure within this many deviations of the periods before is normal. */
const usualDeviations = 3;
/** A figure that moved by less than this fraction is normal; the second applies if no change was found over time. */
const leastMove = 0.03;
const leastMoveOfNone = 0.1;

/**
 * Finds the values, pairs and triples of values that explain why a figure changed. Candidates are ranked by how far their share of the
 * change exceeds their part of the events (explanatory power and surprise: R. Bhagwan and others, Adtributor, NSDI 2014); a pair replaces
 * a single value if the change is limited to it (after Z. Li and others, Squeeze, ISSRE 2019). The events of each cause are removed
 * before the next search, so none counts twice. `hasBegun`: whether a change was found over time, so that a small one counts too.
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
    // Everything is new, or gone.
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

  /** The median of the figure over the periods before and its deviation; no deviation for fewer than three periods. */
  private usualFigure(): { readonly middle: number; readonly deviation?: number } {
    const { events, measure } = this;
    const groupOf = (row: number): number => (events.period[row] as number) - 1;
    const { width } = measure;
    const figures = sumsOfGroups(events, countUp(events.rows), { groupOf, groups: events.periods, width })
      // Amounts are stored as fractions of the mean over all periods.
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

  /** Values that nearly all events of a candidate have, and few others. */
  private alsoOf(candidate: Candidate, rows: Int32Array): readonly FieldValue[] {
    const { events } = this;
    const moved = this.moveOf(candidate.sums);
    // If the events ceased, look at those from before.
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

  /** The smallest number of values of one field that explain 80 % of the change. */
  private needed(rows: Int32Array, whole: Sums): Explanation['needed'] {
    const needed = this.events.fields.flatMap(({ name }, field) => {
      const sums = sumsByValue(this.events, { rows, field, width: this.measure.width, most: mostWeighed });
      const shares = [...sums].map(
        ([code, ofValue]) => this.candidates.candidate([{ field, code }], ofValue, whole).share,
      );
      let sum = 0;
      const values = shares.sort((a, b) => b - a).findIndex((share) => (sum += share) >= most) + 1;
      // A value that all events have explains nothing.
      return values > 1 ? [{ field: name, values }] : [];
    });
    return needed.sort((a, b) => a.values - b.values)[0];
  }
}

/** The fraction of a change that is most of it, and of events that is nearly all. */
const most = 0.8;
const nearlyAll = 0.92;
/** Standard errors in half of a 95 % confidence interval. */
const twoSided = 1.96;

function countsOf(codes: Int32Array, rows: Int32Array): ReadonlyMap<number, number> {
  const counts = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const code = codes[rows[i] as number] as number;
    counts.set(code, (counts.get(code) ?? 0) + 1);
  }
  return counts;
}
