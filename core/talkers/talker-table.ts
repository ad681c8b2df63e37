import { type DistinctSketch, distinctCount, mergeDistinct, newDistinctSketch } from '../sketches/distinct.ts';
import type { TalkerWindow } from './talker-levels.ts';
import type { ReadTalkers } from './talker-sketch.ts';

/** One who contributes, in a window. */
export interface TalkerLine {
  /** The id of its labels. */
  readonly id: string;
  /** At least so much; at most `missed` of the table more. */
  readonly amount: number;
  /** By step. */
  readonly values: readonly number[];
  /** Since when (milliseconds) it is in the ranking; undefined where the window does not tell. */
  readonly since: number | undefined;
}

/** A ranking over a window. */
export interface TalkerTable {
  /** What all contributed who were not left out. */
  readonly total: number;
  /** All of them by step. */
  readonly totals: readonly number[];
  /** By how much amounts may be too low. */
  readonly missed: number;
  /** How many there are, estimated. */
  readonly distinct: number;
  /** What was left out came to, at least. */
  readonly leftOut: number;
  /** Those who contributed most, the first first. */
  readonly lines: readonly TalkerLine[];
}

/** What of a ranking is asked for. */
export interface TalkerQuestion {
  readonly window: TalkerWindow;
  /** Most lines. */
  readonly most: number;
  /** The step by which they are ranked (its start, in milliseconds); undefined: the whole window. */
  readonly at: number | undefined;
  /** The ids of those who are left out. */
  readonly without: readonly string[];
  /** Whether it has since when those in it are there. */
  readonly hasSince: boolean;
}

/** Puts the sketches of a window together to a ranking. */
export class TalkerBuilder {
  private readonly steps: number;
  private readonly read: { readonly step: number; readonly talkers: ReadTalkers }[] = [];
  private readonly sinceOf = new Map<string, number>();

  constructor(private readonly question: TalkerQuestion) {
    const { from, to, level } = question.window;
    this.steps = Math.max(1, Math.round((to - from) / level.step));
  }

  /** Adds a sketch of the step that begins at `start` (milliseconds); what is outside the window is passed over. */
  add(start: number, talkers: ReadTalkers): void {
    const { from, level } = this.question.window;
    const step = Math.floor((start - from) / level.step);
    if (step >= 0 && step < this.steps) this.read.push({ step, talkers });
  }

  /** Adds a sketch of a day that says since when those in it are in the ranking. */
  addSince(start: number, { ids, since }: ReadTalkers): void {
    ids.forEach((id, i) => {
      const at = since?.[i] ?? start;
      this.sinceOf.set(id, Math.min(at, this.sinceOf.get(id) ?? at));
    });
  }

  table(): TalkerTable {
    const { window, most, at, without } = this.question;
    const left = new Set(without);
    const ranked = at === undefined ? undefined : Math.floor((at - window.from) / window.level.step);
    const counted = this.read.filter(({ step }) => ranked === undefined || step === ranked);
    const sums = new Map<string, number>();
    const distinct: DistinctSketch = newDistinctSketch();
    const totals = new Array<number>(this.steps).fill(0);
    for (const { talkers } of counted) {
      mergeDistinct(distinct, talkers.distinct);
      talkers.ids.forEach((id, i) => void sums.set(id, (sums.get(id) ?? 0) + (talkers.counts[i] as number)));
    }
    for (const { step, talkers } of this.read) {
      totals[step] = (totals[step] as number) + talkers.total;
      talkers.ids.forEach((id, i) => {
        if (left.has(id)) totals[step] = (totals[step] as number) - (talkers.counts[i] as number);
      });
    }
    let leftOut = 0;
    let leftCount = 0;
    for (const id of left) {
      const amount = sums.get(id);
      if (amount === undefined) continue;
      leftOut += amount;
      leftCount++;
      sums.delete(id);
    }
    const total = counted.reduce((sum, { talkers }) => sum + talkers.total, 0) - leftOut;
    const missed = counted.reduce((sum, { talkers }) => sum + talkers.missed, 0);
    return {
      ...{ total, totals, missed, leftOut },
      // What had a counter all the time is known one by one.
      distinct: missed === 0 ? sums.size : Math.max(sums.size, distinctCount(distinct) - leftCount),
      lines: this.lines(topOf(sums, most)),
    };
  }

  private lines(top: readonly (readonly [string, number])[]): readonly TalkerLine[] {
    const values = new Map(top.map(([id]) => [id, new Array<number>(this.steps).fill(0)]));
    const { window } = this.question;
    const seen = new Map<string, number>();
    for (const { step, talkers } of this.read)
      talkers.ids.forEach((id, i) => {
        const of = values.get(id);
        if (!of) return;
        of[step] = (of[step] as number) + (talkers.counts[i] as number);
        const start = window.from + step * window.level.step;
        seen.set(id, Math.min(start, seen.get(id) ?? start));
      });
    return top.map(([id, amount]) => {
      const [known, first] = [this.sinceOf.get(id), seen.get(id)];
      const since = known === undefined ? first : Math.min(known, first ?? known);
      return { id, amount, values: values.get(id) ?? [], since };
    });
  }
}

/** The largest sums, the first first. */
function topOf(sums: ReadonlyMap<string, number>, most: number): readonly (readonly [string, number])[] {
  let top: (readonly [string, number])[] = [];
  let least = 0;
  const rank = (): void => {
    top = top.sort((a, b) => b[1] - a[1] || (a[0] < b[0] ? -1 : 1)).slice(0, most);
    least = top.length < most ? 0 : (top.at(-1)?.[1] ?? 0);
  };
  for (const [id, amount] of sums)
    if (amount >= least) {
      top.push([id, amount]);
      if (top.length > 4 * most + 64) rank();
    }
  rank();
  return top;
}
