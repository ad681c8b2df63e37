import { gapClasses } from './gap-classes.ts';
import { addGaps, cursorIsActive, type GapCounts, gapsOf, newRhythm, type Rhythm } from './rhythm.ts';

/** A rhythm written short, for the store. */
export interface PackedRhythm {
  readonly first: number;
  readonly last: number;
  readonly events: number;
  readonly gapWeek: number;
  /** `[class, count, sum, longest]` of this week and of the one before. */
  readonly gaps: readonly (readonly number[])[];
  readonly gapsBefore: readonly (readonly number[])[];
  /** The quarters of the week, one digit each. */
  readonly week: string;
  readonly cursor: number;
  readonly odd: readonly number[];
}

/** Writes a rhythm short. */
export function packRhythm(rhythm: Rhythm): PackedRhythm {
  const { first, last, events, gapWeek, cursor, odd } = rhythm;
  return {
    first,
    last,
    events,
    gapWeek,
    gaps: packGaps(rhythm.gaps),
    gapsBefore: packGaps(rhythm.gapsBefore),
    week: rhythm.week.join(''),
    cursor,
    odd: [...odd],
  };
}

/** Reads what {@link packRhythm} wrote. */
export function unpackRhythm(packed: PackedRhythm): Rhythm {
  const rhythm = newRhythm(packed.first);
  const { last, events, gapWeek, cursor } = packed;
  Object.assign(rhythm, { last, events, gapWeek, cursor });
  unpackGaps(packed.gaps, rhythm.gaps);
  unpackGaps(packed.gapsBefore, rhythm.gapsBefore);
  for (let i = 0; i < rhythm.week.length; i++) rhythm.week[i] = packed.week.charCodeAt(i) - 48;
  rhythm.cursorIsActive = cursorIsActive(rhythm);
  rhythm.odd.push(...packed.odd);
  return rhythm;
}

function packGaps(gaps: GapCounts): number[][] {
  const packed: number[][] = [];
  for (let index = 0; index < gapClasses; index++) {
    const { count, sum, longest } = gapsOf(gaps, index);
    if (count > 0) packed.push([index, count, Math.round(sum), Math.round(longest)]);
  }
  return packed;
}

function unpackGaps(packed: readonly (readonly number[])[], gaps: GapCounts): void {
  for (const [index = 0, count = 0, sum = 0, longest = 0] of packed) addGaps(gaps, index, count, sum, longest);
}
