import { day, hour, minute } from '../events/time-units.ts';
import { type Arrivals, thinning } from './arrivals.ts';
import { classOf, gapClasses } from './gap-classes.ts';

/** Gaps between arrivals, by class of length. */
export interface GapCounts {
  /**
   * For each class three numbers side by side, which one look at memory finds: how many there are, their sum and the
   * longest of them (milliseconds). See {@link gapsOf}.
   */
  readonly classes: Float64Array;
  /** The longest of all, in milliseconds. */
  most: number;
}

/** What is known of one class of gaps: their number, and their sum and the longest of them in milliseconds. */
export function gapsOf({ classes }: GapCounts, index: number): { count: number; sum: number; longest: number } {
  const at = 3 * index;
  return { count: classes[at] as number, sum: classes[at + 1] as number, longest: classes[at + 2] as number };
}

/** Adds gaps of one class to those that are known. */
export function addGaps(gaps: GapCounts, index: number, count: number, sum: number, longest: number): void {
  const { classes } = gaps;
  const at = 3 * index;
  classes[at] = (classes[at] as number) + count;
  classes[at + 1] = (classes[at + 1] as number) + sum;
  classes[at + 2] = Math.max(classes[at + 2] as number, longest);
  gaps.most = Math.max(gaps.most, longest);
}

/**
 * The rhythm in which an emitter reports: how long its gaps are, and in which parts of the week it reports at all.
 * Plain data. Times in milliseconds since 1970 UTC.
 */
export interface Rhythm {
  first: number;
  last: number;
  events: number;
  /** Gaps of this week and of the one before, so that a rhythm that changed is learnt anew within a week or two. */
  gaps: GapCounts;
  gapsBefore: GapCounts;
  /** The week (counted from 1970) that `gaps` belongs to. */
  gapWeek: number;
  /** By quarter of an hour of the week (counted from Thursday 00:00 UTC): the bits below. */
  readonly week: Uint8Array;
  /** The last quarter (counted from 1970) that was passed through; −1 before the first. */
  cursor: number;
  /** Whether the pass through that quarter was active so far. */
  cursorIsActive: boolean;
  /** When gaps ended that were longer than any expected; those that come again and again are the rhythm. */
  readonly odd: number[];
}

const quarter = 900_000;
const quartersOfDay = 96;
const quartersOfWeek = 7 * quartersOfDay;

/** Bits of a quarter: it was passed through; its last pass was active; the pass before that was not quiet. */
const observed = 1;
const active = 2;
const notQuietBefore = 4;

/** This many odd gaps within {@link oddSpan} are no accident any more. */
const oddEnough = 4;
const oddSpan = 8 * day;

function noGaps(): GapCounts {
  return { classes: new Float64Array(3 * gapClasses), most: 0 };
}

/** The rhythm of an emitter of which nothing is known but when it was first heard. */
export function newRhythm(first: number): Rhythm {
  return {
    first,
    last: first,
    events: 0,
    gaps: noGaps(),
    gapsBefore: noGaps(),
    gapWeek: Math.floor(first / (7 * day)),
    week: new Uint8Array(quartersOfWeek),
    cursor: -1,
    cursorIsActive: false,
    odd: [],
  };
}

/** What is expected of an emitter, in milliseconds of its working time. */
export interface Expectation {
  /** The usual gap: half of the working time is spent in gaps that are no longer. */
  readonly interval: number;
  /** After a gap of this length it is late. */
  readonly late: number;
  /** After a gap of this length it is silent. */
  readonly silent: number;
}

/** Gaps that must have been seen before anything is expected, and before the longest of them says much. */
const enoughGaps = 4;
const manyGaps = 60;
/** Longest wait beyond the longest gap, in milliseconds: rare reports are missed within the hour. */
const most = 45 * 60_000;
/** The gaps must make up this share of the time since the first arrival: a burst alone is no rhythm. */
const leastExplained = 0.15;
/** And it must have been heard over this long, in milliseconds: one file that is read in pieces is no rhythm either. */
const leastSpan = 5 * 60_000;
/** One whose gaps are alike is known sooner: by so many of them, over so long (milliseconds). */
const regularGaps = 20;
const regularSpan = 30_000;
/** Gaps are alike where the longest is at most so many times the usual one. */
const alike = 3;
/** Shortest silence that is shown, and shortest lateness (milliseconds): what was sent takes a moment until it is committed. */
export const leastSilent = 10_000;
const leastLate = 5_000;
/** A gap is an outlier among some others when it is longer than a minute and so many times the longest of them. */
const outlier = 20;

/**
 * What the gaps seen so far let expect; undefined while there are too few. Gaps count by the time spent in them, so that
 * bursts of any size weigh next to nothing; one whose gaps are alike is known after {@link regularGaps} of them. An emitter is
 * silent after a quarter more than its longest gap (half as much
 * again where gaps vary a lot), with rare reports after three quarters of an hour more.
 */
export function expectationOf({ gaps, gapsBefore, first, last }: Rhythm): Expectation | undefined {
  let total = 0;
  let count = 0;
  let longest = 0;
  for (let index = 0; index < gapClasses; index++) {
    const now = gapsOf(gaps, index);
    const before = gapsOf(gapsBefore, index);
    if (now.count + before.count === 0) continue;
    count += now.count + before.count;
    total += now.sum + before.sum;
    longest = Math.max(now.longest, before.longest);
  }
  const span = last - first;
  if (count < enoughGaps || span < regularSpan || total < span * leastExplained) return undefined;
  let spent = 0;
  let interval = 0;
  for (let index = 0; index < gapClasses && spent * 2 < total; index++) {
    const now = gapsOf(gaps, index);
    const before = gapsOf(gapsBefore, index);
    spent += now.sum + before.sum;
    if (now.count + before.count > 0) interval = (now.sum + before.sum) / (now.count + before.count);
  }
  if (span < leastSpan && (count < regularGaps || longest > alike * interval)) return undefined;
  const spread = longest > interval * 2.2 ? 1.5 : 1.25;
  const least = count < manyGaps ? 2 : 1.6;
  const silent = Math.max(
    Math.min(longest * spread, longest + most),
    Math.min(interval * least, interval + most),
    leastSilent,
  );
  return { interval, late: Math.min(silent, Math.max(longest, interval * 1.2, leastLate)), silent };
}

/** Takes arrivals into the rhythm. What is older than the last arrival known only counts. */
export function learn(rhythm: Rhythm, arrivals: Arrivals): void {
  const isFirst = rhythm.events === 0;
  rhythm.events += arrivals.events;
  const [start] = arrivals.spans;
  if (!start || (!isFirst && start[0] < rhythm.last - thinning)) return;
  turnWeek(rhythm, start[0]);
  for (const [index, count, longest, sum] of arrivals.gaps) addGaps(rhythm.gaps, index, count, sum, longest);
  for (const span of arrivals.spans) {
    const [from, to] = span;
    if (from > rhythm.last && !(isFirst && span === start)) learnGap(rhythm, rhythm.last, from);
    pass(rhythm, from, to, true);
    rhythm.last = Math.max(rhythm.last, to);
  }
}

function turnWeek(rhythm: Rhythm, time: number): void {
  const week = Math.floor(time / (7 * day));
  if (week <= rhythm.gapWeek) return;
  rhythm.gapsBefore = week === rhythm.gapWeek + 1 ? rhythm.gaps : noGaps();
  if (week > rhythm.gapWeek + 1 && rhythm.gaps.most > 0) rhythm.gapsBefore = rhythm.gaps;
  rhythm.gaps = noGaps();
  rhythm.gapWeek = week;
}

/** A gap is learnt when it is usual, or when it keeps coming back; one that is outside of working time is a rest. */
function learnGap(rhythm: Rhythm, from: number, to: number): void {
  const gap = to - from;
  // No longer than one that was learnt before is usual whatever is expected; between neighbouring quarters none is passed.
  if (gap <= longestGap(rhythm) && Math.floor(to / quarter) - Math.floor(from / quarter) <= 1) {
    addGaps(rhythm.gaps, classOf(gap), 1, gap, gap);
    return;
  }
  const expected = expectationOf(rhythm);
  if (!expected || gap <= expected.silent) {
    // Before anything is expected a long gap may as well be a night: it is not taken for the rhythm yet.
    if (!expected && gap > 2 * hour && gap > 4 * longestGap(rhythm) && longestGap(rhythm) > 0) return;
    // Nor is a pause among much shorter gaps, until it has come back: one that was started again is no slow one.
    if (!expected && isOutlier(rhythm, gap) && !comesBack(rhythm, to)) return;
    addGaps(rhythm.gaps, classOf(gap), 1, gap, gap);
    if (expected) pass(rhythm, from, to, true);
    return;
  }
  const worked = workingTime(rhythm, from, to);
  if (worked > expected.silent) {
    if (comesBack(rhythm, to)) addGaps(rhythm.gaps, classOf(worked), 1, worked, worked);
    // An outage says nothing about the part of the week it fell into, but for parts that are not known yet.
    passUnknown(rhythm, from, to);
    return;
  }
  pass(rhythm, from, to, false);
}

/** Notes that an odd gap ended; whether such gaps have come back so often that they are the rhythm. */
function comesBack(rhythm: Rhythm, time: number): boolean {
  rhythm.odd.push(time);
  while ((rhythm.odd[0] ?? time) < time - oddSpan) rhythm.odd.shift();
  if (rhythm.odd.length < oddEnough) return false;
  rhythm.odd.length = 0;
  return true;
}

function isOutlier(rhythm: Rhythm, gap: number): boolean {
  const longest = longestGap(rhythm);
  return gap > minute && longest > 0 && gap > outlier * longest && countOf(rhythm.gaps) >= enoughGaps;
}

function countOf(gaps: GapCounts): number {
  let count = 0;
  for (let index = 0; index < gapClasses; index++) count += gapsOf(gaps, index).count;
  return count;
}

function longestGap({ gaps, gapsBefore }: Rhythm): number {
  return Math.max(gaps.most, gapsBefore.most);
}

/** Marks the quarters of a stretch as passed, active or not; those at both ends were active in any case. */
function pass(rhythm: Rhythm, from: number, to: number, isActive: boolean): void {
  const first = Math.floor(from / quarter);
  const last = Math.min(Math.floor(to / quarter), first + quartersOfWeek - 1);
  for (let index = first; index <= last; index++) mark(rhythm, index, isActive || index === first || index === last);
}

function mark(rhythm: Rhythm, index: number, isActive: boolean): void {
  if (index === rhythm.cursor && (rhythm.cursorIsActive || !isActive)) return;
  const place = index % quartersOfWeek;
  const bits = rhythm.week[place] as number;
  if (index <= rhythm.cursor) {
    if (isActive) rhythm.week[place] = bits | active | observed;
    if (index === rhythm.cursor) rhythm.cursorIsActive = true;
    return;
  }
  rhythm.cursor = index;
  rhythm.cursorIsActive = isActive;
  const before = (bits & observed) === 0 || (bits & active) !== 0 ? notQuietBefore : 0;
  rhythm.week[place] = observed | (isActive ? active : 0) | before;
}

/** Whether the quarter passed through last was active, as the bits of the week say. */
export function cursorIsActive({ week, cursor }: Rhythm): boolean {
  return cursor >= 0 && ((week[cursor % quartersOfWeek] as number) & active) !== 0;
}

function passUnknown(rhythm: Rhythm, from: number, to: number): void {
  const last = Math.min(Math.floor(to / quarter), Math.floor(from / quarter) + quartersOfWeek);
  for (let index = Math.floor(from / quarter) + 1; index < last; index++) {
    if (((rhythm.week[index % quartersOfWeek] as number) & observed) === 0) mark(rhythm, index, false);
    else if (index > rhythm.cursor) {
      rhythm.cursor = index;
      rhythm.cursorIsActive = false;
    }
  }
}

/**
 * How much of a stretch is in an emitter's working time, in milliseconds. A quarter of an hour counts when it and the two
 * on either side were active when they were last passed, and on all other days of the kind (weekdays, weekend) that are
 * known; with no such day known it counts for emitters that have never rested.
 */
export function workingTime(rhythm: Rhythm, from: number, to: number): number {
  let sum = 0;
  const first = Math.floor(from / quarter);
  const restless = neverRests(rhythm);
  for (let index = first; index * quarter < to && index < first + quartersOfWeek; index++) {
    if (!restless && !worksAround(rhythm, index)) continue;
    sum += Math.min(to, (index + 1) * quarter) - Math.max(from, index * quarter);
  }
  return sum;
}

/** Quarters on both sides that must be working time too: days begin and end a little earlier or later. */
const margin = 2;

function worksAround(rhythm: Rhythm, index: number): boolean {
  for (let other = index - margin; other <= index + margin; other++) if (!works(rhythm, other)) return false;
  return true;
}

function works(rhythm: Rhythm, index: number): boolean {
  const bits = rhythm.week[index % quartersOfWeek] as number;
  let known = (bits & observed) !== 0;
  if (known && (bits & (active | notQuietBefore)) !== (active | notQuietBefore)) return false;
  const weekend = isWeekend(index);
  for (let days = 1; days < 7; days++) {
    const other = index + days * quartersOfDay;
    if (isWeekend(other) !== weekend) continue;
    const otherBits = rhythm.week[other % quartersOfWeek] as number;
    if ((otherBits & observed) === 0) continue;
    if ((otherBits & active) === 0) return false;
    known = true;
  }
  return known;
}

/** Share of quarters in which an emitter that never rests may have been quiet, after a day at least. */
const restShare = 0.03;

function neverRests({ week }: Rhythm): boolean {
  let known = 0;
  let quiet = 0;
  for (let place = 0; place < quartersOfWeek; place++) {
    const bits = week[place] as number;
    if ((bits & observed) === 0) continue;
    known++;
    if ((bits & active) === 0) quiet++;
  }
  return known >= quartersOfDay - 4 && quiet <= known * restShare;
}

/** 1970-01-01, day 0, was a Thursday. */
function isWeekend(index: number): boolean {
  const weekday = (Math.floor(index / quartersOfDay) + 4) % 7;
  return weekday === 0 || weekday === 6;
}
