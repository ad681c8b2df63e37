import type { ComparedEvents } from './compared-events.ts';
import { jackknifed, jackknifeGroups, lessGroup } from './jackknife.ts';
import type { Measure } from './measure.ts';
import { type Sums, sumsByValue, sumsOfGroups } from './sums.ts';

/** Most values of a field that are tested. */
export const mostWeighed = 200;
/** Most values or pairs that are combined with further values. */
const mostCombined = 8;
/** A longer combination must explain this much more of the change than a shorter one. */
const worthLonger = 0.04;
/** A candidate is split further only if it has this many rows on both sides, and this ratio of its smaller to its larger side. */
const fewRows = 30;
const leastCommon = 0.02;
/** A candidate is narrowed to a part that explains this fraction of it, had at most this fraction of its events, and left the rest nearly unchanged. */
const mostOfIt = 0.7;
const clearlyLess = 0.8;
const hardlyMoved = 0.3;

/** A value or a combination of values, and how much of the change it explains. */
export interface Candidate {
  readonly codes: readonly { readonly field: number; readonly code: number }[];
  readonly sums: Sums;
  /** The fraction of the change that disappears if these events are replaced by those from before. */
  readonly share: number;
  /** Their fraction of all events, the smaller of before and since: the share expected if everything had changed alike. */
  readonly part: number;
}

/** Tests values and their combinations for how much of a change they explain. */
export class Candidates {
  /** How many values and combinations were tested. */
  readonly looked = { values: 0, combinations: 0 };

  constructor(
    private readonly events: ComparedEvents,
    private readonly measure: Measure,
  ) {}

  /** The candidate that best explains how the figure of some rows changed; of nearly equal ones the shortest. Undefined without candidates. */
  best(rows: Int32Array, whole: Sums): Candidate | undefined {
    const singles = this.candidates(rows, whole, undefined);
    this.looked.values = Math.max(this.looked.values, singles.length);
    const pairs = this.combined(rows, whole, singles);
    const [single] = singles;
    const [pair] = pairs;
    const isPair = single && pair && worth(pair) > worth(single);
    const triples = isPair ? this.combined(rows, whole, pairs.slice(0, mostCombined / 2)) : [];
    const [best] = [single, pair, triples[0]].filter((one) => one !== undefined).sort((a, b) => worth(b) - worth(a));
    return best && this.narrowed(best, rows, whole);
  }

  /** Candidates with one value more than `within`, best first. */
  private candidates(rows: Int32Array, whole: Sums, within: Candidate | undefined): readonly Candidate[] {
    const { events, measure } = this;
    const isIn = new Set(within?.codes.map(({ field }) => field));
    const found: Candidate[] = [];
    events.fields.forEach((_, field) => {
      if (isIn.has(field)) return;
      const sums = sumsByValue(events, { rows, field, width: measure.width, most: mostWeighed });
      for (const [code, ofValue] of sums)
        found.push(this.candidate([...(within?.codes ?? []), { field, code }], ofValue, whole));
    });
    return found.sort((a, b) => worth(b) - worth(a));
  }

  /** Makes a candidate from its sums. */
  candidate(codes: Candidate['codes'], sums: Sums, whole: Sums): Candidate {
    const { measure } = this;
    const now = measure.figure(whole.since);
    const moved = now - measure.figure(whole.before);
    const without = this.withoutOf(sums, whole);
    const share = Number.isNaN(without) ? 0 : (now - without) / moved;
    return { codes, sums, share, part: this.partOf(sums, whole) };
  }

  /** The whole figure since the change, with some events replaced by those from before. */
  withoutOf(sums: Sums, whole: Sums): number {
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

  /** Combines the best candidates, and those with the largest share, with one value more. */
  private combined(rows: Int32Array, whole: Sums, candidates: readonly Candidate[]): readonly Candidate[] {
    const most = candidates.toSorted((a, b) => b.share - a.share).slice(0, mostCombined / 2);
    const chosen = [...new Set([...candidates.slice(0, mostCombined / 2), ...most])];
    const found = chosen.flatMap((candidate) => this.candidates(this.rowsOf(candidate, rows), whole, candidate));
    this.looked.combinations += found.length;
    return found.sort((a, b) => worth(b) - worth(a));
  }

  /**
   * The candidate with one value more, if the change within it is limited to events with that value; otherwise the candidate itself.
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

  /** The rows that have a candidate's values. */
  rowsOf(candidate: Candidate, rows: Int32Array): Int32Array {
    return rows.filter((row) => this.has(candidate, row));
  }

  /** Whether a row has a candidate's values. */
  has({ codes }: Candidate, row: number): boolean {
    for (const { field, code } of codes) if (this.events.fields[field]?.codes[row] !== code) return false;
    return true;
  }

  /** The standard error of a candidate's share: by the jackknife over ten groups of rows (B. Efron, C. Stein 1981). */
  errorOf(candidate: Candidate, rows: Int32Array, whole: Sums): number {
    const mine = this.groupSums(this.rowsOf(candidate, rows));
    const all = this.groupSums(rows);
    const shares = all.map(
      (group, i) =>
        this.candidate(candidate.codes, lessGroup(candidate.sums, mine[i] as Sums), lessGroup(whole, group)).share,
    );
    return jackknifed(shares);
  }

  /** The sums of each jackknife group. */
  groupSums(rows: Int32Array): readonly Sums[] {
    const groupOf = (row: number): number => row % jackknifeGroups;
    return sumsOfGroups(this.events, rows, { groupOf, groups: jackknifeGroups, width: this.measure.width });
  }
}

/** Ranks candidates: the share beyond what is expected, less a bit for each further value. */
function worth({ share, part, codes }: Candidate): number {
  return share - part - worthLonger * (codes.length - 1);
}
