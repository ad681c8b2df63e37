import { countUp } from '../events/select.ts';
import { median } from '../sketches/exact-quantile.ts';
import type { ComparedEvents } from './compared-events.ts';
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
   * `values`: few values account for it. `spread`: no few values do. `usual`: the figure is within what it usually is. `nothing`: there
   * are no events at one of the times.
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
/** Values of a field that are weighed. */
const mostValues = 200;
/** Values and pairs whose combinations with others are weighed. */
const mostCombined = 8;
/** What a value takes along must be so much more than its part of the events. */
const leastExcess = 0.1;
/** A combination must explain so much more than what is shorter. */
const worthLonger = 0.04;
/** What is left of a change is looked at while it is this part of it. */
const leastRest = 0.06;
/** Standard errors beyond which something is not by chance: thousands of values are compared. */
const beyondChance = 4.5;
/** Deviations of the times before within which a figure is usual. */
const usualDeviations = 3;
const deviationScale = 1.4826;
/** A figure that moved by less than this part is as usual, however steady it was; where nothing tells that it moved at some time, this. */
const leastMove = 0.03;
const leastMoveOfNone = 0.1;

/** A value or a combination, and what it would take along. */
interface Candidate {
  readonly codes: readonly { readonly field: number; readonly code: number }[];
  readonly sums: Sums;
  /** By how much the figure would be less were these events as before, as a part of the change. */
  readonly share: number;
  /** Their part of the events, the smaller one of before and since: what they would take along by it alone. */
  readonly part: number;
}

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
  private readonly looked = { values: 0, combinations: 0 };

  constructor(
    private readonly events: ComparedEvents,
    private readonly measure: Measure,
    private readonly leastMove: number,
  ) {}

  explain(): Explanation {
    const { events, measure } = this;
    let rows = countUp(events.rows);
    const total = sumsOf(events, rows, measure.width);
    const since = measure.figure(total.since);
    const usual = this.usualFigure();
    const base = { before: usual.middle, since, fields: events.fields.length, causes: [], rest: 1 };
    if (Number.isNaN(since - usual.middle) || total.rowsBefore + total.rowsSince === 0)
      return { ...base, ...this.looked, verdict: 'nothing' };
    // All of it is new, or gone.
    if (total.rowsBefore === 0 || total.rowsSince === 0) return { ...base, ...this.looked, verdict: 'spread' };
    const change = since - measure.figure(total.before);
    if (this.isUsual(since, usual) || !this.isBeyondChance(rows, total))
      return { ...base, ...this.looked, verdict: 'usual' };
    const causes: Cause[] = [];
    let left = total;
    while (causes.length < mostCauses) {
      const moved = this.moveOf(left);
      if (Number.isNaN(moved) || Math.abs(moved) < leastRest * Math.abs(change)) break;
      const best = this.best(rows, left);
      if (!best) break;
      const error = this.errorOf(best, rows, left);
      const excess = (best.share - best.part) * Math.abs(moved / change);
      if (excess < (causes.length === 0 ? leastExcess : leastRest) || best.share - best.part < beyondChance * error)
        break;
      causes.push(this.cause(best, { rows, left, change, error }));
      rows = rows.filter((row) => !this.has(best, row));
      left = sumsOf(events, rows, measure.width);
    }
    const rest = this.moveOf(left) / change;
    if (causes.length > 0)
      return { ...base, ...this.looked, verdict: 'values', causes, rest: Number.isNaN(rest) ? 0 : rest };
    const needed = this.needed(rows, total);
    return { ...base, ...this.looked, verdict: 'spread', ...(needed && { needed }) };
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
    return { middle, deviation: deviationScale * median(figures.map((figure) => Math.abs(figure - middle))) };
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

  /** The best explanation of how some rows moved: the shortest of those that are about as good. */
  private best(rows: Int32Array, whole: Sums): Candidate | undefined {
    const singles = this.candidates(rows, whole, undefined);
    this.looked.values = Math.max(this.looked.values, singles.length);
    const pairs = this.combined(rows, whole, singles);
    const bestOf = (candidates: readonly Candidate[]): Candidate | undefined => candidates[0];
    let best = bestOf(singles);
    const longer = [pairs];
    const pair = bestOf(pairs);
    if (best && pair && worth(pair) > worth(best))
      longer.push(this.combined(rows, whole, pairs.slice(0, mostCombined / 2)));
    for (const candidates of longer) {
      const next = bestOf(candidates);
      if (next && (!best || worth(next) > worth(best))) best = next;
    }
    return best && this.narrowed(best, rows, whole);
  }

  /** Candidates that have one value more than `within`, the best first. */
  private candidates(rows: Int32Array, whole: Sums, within: Candidate | undefined): readonly Candidate[] {
    const { events, measure } = this;
    const isIn = new Set(within?.codes.map(({ field }) => field));
    const found: Candidate[] = [];
    events.fields.forEach((_, field) => {
      if (isIn.has(field)) return;
      const sums = sumsByValue(events, { rows, field, width: measure.width, most: mostValues });
      for (const [code, ofValue] of sums)
        found.push(this.candidate([...(within?.codes ?? []), { field, code }], ofValue, whole));
    });
    return found.sort((a, b) => worth(b) - worth(a));
  }

  private candidate(codes: Candidate['codes'], sums: Sums, whole: Sums): Candidate {
    const { measure } = this;
    const now = measure.figure(whole.since);
    const moved = now - measure.figure(whole.before);
    const without = this.withoutOf(sums, whole);
    const share = Number.isNaN(without) ? 0 : (now - without) / moved;
    return { codes, sums, share, part: this.partOf(sums, whole) };
  }

  /** What the whole figure would be since the change, were some events as before. */
  private withoutOf(sums: Sums, whole: Sums): number {
    return this.measure.figure(
      whole.since.map((sum, i) => sum - (sums.since[i] as number) + (sums.before[i] as number)),
    );
  }

  private partOf(sums: Sums, whole: Sums): number {
    const part = (some: number, all: number): number => (all > 0 ? some / all : 0);
    if (!this.measure.isAdditive)
      return Math.min(part(sums.eventsBefore, whole.eventsBefore), part(sums.eventsSince, whole.eventsSince));
    const before = part(this.measure.figure(sums.before), this.measure.figure(whole.before));
    return Math.min(before, part(this.measure.figure(sums.since), this.measure.figure(whole.since)));
  }

  /** Combinations of the best candidates, and of those that take along most, with one value more. */
  private combined(rows: Int32Array, whole: Sums, candidates: readonly Candidate[]): readonly Candidate[] {
    const most = candidates.toSorted((a, b) => b.share - a.share).slice(0, mostCombined / 2);
    const chosen = [...new Set([...candidates.slice(0, mostCombined / 2), ...most])];
    const found = chosen.flatMap((candidate) => this.candidates(this.rowsOf(candidate, rows), whole, candidate));
    this.looked.combinations += found.length;
    return found.sort((a, b) => worth(b) - worth(a));
  }

  /**
   * A candidate with one value more, where within it the whole change lies with that value, while it has had other values all the
   * time; else the candidate itself.
   */
  private narrowed(candidate: Candidate, rows: Int32Array, whole: Sums): Candidate {
    if (candidate.codes.length >= 3 || !this.measure.isAdditive) return candidate;
    const { figure } = this.measure;
    const [before, since] = [figure(candidate.sums.before), figure(candidate.sums.since)];
    if (Math.min(candidate.sums.rowsBefore, candidate.sums.rowsSince) < fewRows) return candidate;
    if (Math.min(before, since) < leastCommon * Math.max(before, since)) return candidate;
    const [less, more] = since > before ? [before, since] : [since, before];
    const narrower = this.candidates(this.rowsOf(candidate, rows), whole, candidate).find(({ share, sums }) => {
      const parts = [figure(sums.before), figure(sums.since)];
      const [ofLess, ofMore] = (since > before ? parts : parts.reverse()) as [number, number];
      const growth = (more - less) / less;
      const others = (more - ofMore - (less - ofLess)) / (less - ofLess);
      return (
        share >= mostOfIt * candidate.share && ofLess <= clearlyLess * less && Math.abs(others) <= hardlyMoved * growth
      );
    });
    return narrower ? this.narrowed(narrower, rows, whole) : candidate;
  }

  private rowsOf(candidate: Candidate, rows: Int32Array): Int32Array {
    return rows.filter((row) => this.has(candidate, row));
  }

  private has({ codes }: Candidate, row: number): boolean {
    for (const { field, code } of codes) if (this.events.fields[field]?.codes[row] !== code) return false;
    return true;
  }

  /** The standard error of a candidate's share: by the jackknife over ten groups of rows (B. Efron, C. Stein 1981). */
  private errorOf(candidate: Candidate, rows: Int32Array, whole: Sums): number {
    const mine = this.groupSums(this.rowsOf(candidate, rows));
    const all = this.groupSums(rows);
    const shares = all.map(
      (group, i) =>
        this.candidate(candidate.codes, lessGroup(candidate.sums, mine[i] as Sums), lessGroup(whole, group)).share,
    );
    return jackknifed(shares);
  }

  private isBeyondChance(rows: Int32Array, whole: Sums): boolean {
    const moves = this.groupSums(rows).map((group) => this.moveOf(lessGroup(whole, group)));
    return Math.abs(this.moveOf(whole)) > beyondChance * jackknifed(moves);
  }

  private groupSums(rows: Int32Array): readonly Sums[] {
    const groupOf = (row: number): number => row % jackknifeGroups;
    return sumsOfGroups(this.events, rows, { groupOf, groups: jackknifeGroups, width: this.measure.width });
  }

  private cause(
    best: Candidate,
    {
      rows,
      left,
      change,
      error,
    }: { readonly rows: Int32Array; readonly left: Sums; readonly change: number; readonly error: number },
  ): Cause {
    const { measure } = this;
    const scale = this.moveOf(left) / change;
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
      without:
        this.withoutOf(best.sums, left) +
        (measure.isAdditive ? measure.figure(this.whole().since) - measure.figure(left.since) : 0),
      also: this.alsoOf(best, rows),
    };
  }

  private whole(): Sums {
    return sumsOf(this.events, countUp(this.events.rows), this.measure.width);
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
    const mine = this.rowsOf(candidate, rows).filter(isOf);
    const others = rows.filter((row) => isOf(row) && !this.has(candidate, row));
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
      const sums = sumsByValue(this.events, { rows, field, width: this.measure.width, most: mostValues });
      const shares = [...sums].map(([code, ofValue]) => this.candidate([{ field, code }], ofValue, whole).share);
      let sum = 0;
      const values = shares.sort((a, b) => b - a).findIndex((share) => (sum += share) >= most) + 1;
      // What all events have alike explains nothing.
      return values > 1 ? [{ field: name, values }] : [];
    });
    return needed.sort((a, b) => a.values - b.values)[0];
  }
}

const most = 0.8;
const jackknifeGroups = 10;
/** Standard errors of half a band of 95 %. */
const twoSided = 1.96;
/** Rows at one of the times from which on a candidate's parts are looked at, and its part of the larger time. */
const fewRows = 30;
const leastCommon = 0.02;
const nearlyAll = 0.92;
const clearlyLess = 0.8;
const mostOfIt = 0.7;
const hardlyMoved = 0.3;

/** What a candidate is worth: what it takes along beyond its part, less for each further value. */
function worth({ share, part, codes }: Candidate): number {
  return share - part - worthLonger * (codes.length - 1);
}

function countsOf(codes: Int32Array, rows: Int32Array): ReadonlyMap<number, number> {
  const counts = new Map<number, number>();
  for (let i = 0; i < rows.length; i++) {
    const code = codes[rows[i] as number] as number;
    counts.set(code, (counts.get(code) ?? 0) + 1);
  }
  return counts;
}

/** Sums without those of a group, put to what all groups would be. */
function lessGroup(all: Sums, group: Sums): Sums {
  const scale = jackknifeGroups / (jackknifeGroups - 1);
  const less = (a: Float64Array, b: Float64Array): Float64Array =>
    a.map((value, i) => (value - (b[i] as number)) * scale);
  return {
    before: less(all.before, group.before),
    since: less(all.since, group.since),
    eventsBefore: (all.eventsBefore - group.eventsBefore) * scale,
    eventsSince: (all.eventsSince - group.eventsSince) * scale,
    rowsBefore: all.rowsBefore - group.rowsBefore,
    rowsSince: all.rowsSince - group.rowsSince,
  };
}

function jackknifed(figures: readonly number[]): number {
  const mean = figures.reduce((sum, figure) => sum + figure, 0) / figures.length;
  const squares = figures.reduce((sum, figure) => sum + (figure - mean) ** 2, 0);
  return Math.sqrt((squares * (figures.length - 1)) / figures.length);
}
