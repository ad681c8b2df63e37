import { studentQuantile } from '../sketches/student.ts';
import type { Move } from './moves.ts';
import { sinceLastStep } from './since-last-step.ts';
import { slotCount } from './transitions.ts';

/** Half-widths of the 95 % bands of a draft's figure, and of its change from the live plan; 0 if exact. */
export interface Bands {
  readonly draft: number;
  readonly change: number;
}

/** The weight of each byte of a move in a figure. */
export type Coefficient = (move: Move) => number;

/** Days of the week; their differences are systematic. */
const week = 7;
/** Variation is not estimated from fewer days. */
const fewestDays = 3;
/** Day-to-day variation grows with the volume, at most by this factor. */
const mostGrowth = 2;

/** Bands of two weighted sums of moves. `span` is the number of averaged days; 0 for events that arrive once, which have no variation by day. */
export function bandsOf(moves: readonly Move[], live: Coefficient, draft: Coefficient, span: number): Bands {
  return {
    draft: bandOf(moves, draft, span),
    change: bandOf(moves, (move) => draft(move) - live(move), span),
  };
}

function bandOf(moves: readonly Move[], coefficient: Coefficient, span: number): number {
  const slots = new Float64Array(slotCount);
  const days = new Float64Array(moves[0]?.days.length ?? 0);
  let value = 0;
  for (const move of moves) {
    const factor = coefficient(move);
    if (factor === 0) continue;
    value += factor * move.bytes;
    for (let slot = 0; slot < slotCount; slot++)
      slots[slot] = (slots[slot] as number) + factor * (move.residuals[slot] as number);
    for (let day = 0; day < days.length; day++) days[day] = (days[day] as number) + factor * (move.days[day] as number);
  }
  const sampling = samplingBand(slots);
  return Math.hypot(sampling, span > 0 ? dayBand(days, value, span) : 0);
}

/**
 * The error of a window's shares. Its slots are treated as a sample of clusters, so shares that vary by the hour get a wider band (the
 * variance of a ratio from whole clusters: W. G. Cochran, Sampling Techniques, 3rd edition 1977, section 9A.9).
 */
function samplingBand(slots: Float64Array): number {
  const squares = slots.reduce((sum, residual) => sum + residual * residual, 0);
  return studentQuantile(slotCount - 1) * Math.sqrt((squares * slotCount) / (slotCount - 1));
}

/**
 * The possible difference between the mean of `span` days and that of the next seven days. It adds up the weekday effect of an incomplete
 * week, random variation between the same weekdays (one-way random effects: S. R. Searle, G. Casella, C. E. McCulloch,
 * Variance Components, 1992, chapter 3), and growth: the next week may differ from this one as this one did from the last.
 * With less than ten days, weekday effects count as random. Days before a lasting step are ignored, but a span that
 * includes them gets a band that reaches to the new level.
 */
function dayBand(all: Float64Array, value: number, span: number): number {
  const days = sinceLastStep(all);
  const { length } = days;
  if (length < fewestDays) return 0;
  const mean = meanOf(days);
  const pairs = Math.max(0, length - week);
  const isKnown = pairs >= fewestDays;
  const gains = days.subarray(week).map((day, i) => day - (days[i] as number));
  const gain = isKnown ? meanOf(gains) : 0;
  const chance = isKnown
    ? sum(gains, (one) => (one - gain) ** 2) / 2 / (pairs - 1)
    : sum(days, (day) => (day - mean) ** 2) / (length - 1);
  const used = Math.min(span, length);
  // A new shape has empty days, which are no variation.
  const scale = mean === 0 ? 1 : Math.min(mostGrowth, Math.abs(value / mean));
  const ofChance = studentQuantile(isKnown ? pairs - 1 : length - 1) * Math.sqrt(chance / used + chance / week) * scale;
  const ofStep = length < all.length && span > 1 ? Math.abs(mean - value) : 0;
  return Math.hypot(ofChance, gain * scale) + (isKnown ? ofWeekdays(days, used) : 0) + ofStep;
}

/** The weekday effect of a span that ends with the last full day or with today, whichever is larger. */
function ofWeekdays(days: Float64Array, span: number): number {
  const profile = Float64Array.from({ length: week }, (_, weekday) =>
    meanOf(days.filter((_day, at) => at % week === weekday)),
  );
  const usual = meanOf(profile);
  const differs = (end: number): number => {
    let all = 0;
    for (let back = 1; back <= span; back++) all += (profile[(end - back + 2 * week) % week] as number) - usual;
    return Math.abs(all / span);
  };
  return Math.max(differs(days.length), differs(days.length + 1));
}

function meanOf(values: Float64Array): number {
  return values.length > 0 ? sum(values, (value) => value) / values.length : 0;
}

function sum(values: Float64Array, of: (value: number, place: number) => number): number {
  let all = 0;
  values.forEach((value, place) => {
    all += of(value, place);
  });
  return all;
}
