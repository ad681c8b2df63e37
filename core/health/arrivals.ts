import { classOf, classStart } from './gap-classes.ts';

/** Some arrivals of an emitter, summed up. Times in milliseconds. */
export interface Arrivals {
  readonly events: number;
  /** Stretches within which no gap is longer than {@link thinning}, in order: `[from, to]`. */
  readonly spans: readonly (readonly [number, number])[];
  /** The gaps inside the spans, by class: `[class, count, longest, sum]`. */
  readonly gaps: readonly (readonly [number, number, number, number])[];
}

/** Arrivals that are closer together belong to one span. */
export const thinning = 15_000;

/** Sums up arrivals at some times, in order: all, or those from place `begin` to before `end`. */
export function arrivalsOf(times: ArrayLike<number>, begin = 0, end = times.length): Arrivals {
  const spans: [number, number][] = [];
  const gaps: [number, number, number, number][] = [];
  let from = Number.NaN;
  let last = Number.NaN;
  let current: [number, number, number, number] | undefined;
  // The class of the last gap, as its limits: most gaps are of the same class as the one before.
  let low = 0;
  let high = 0;
  for (let i = begin; i < end; i++) {
    const time = times[i] as number;
    const gap = time - last;
    if (!(gap <= thinning)) {
      if (last === last) spans.push([from, last]);
      from = time;
    } else if (current && gap >= low && gap < high) {
      current[1]++;
      current[3] += gap;
      if (gap > current[2]) current[2] = gap;
    } else {
      const index = classOf(gap);
      current = gaps.find((entry) => entry[0] === index);
      if (!current) gaps.push((current = [index, 0, 0, 0]));
      current[1]++;
      current[3] += gap;
      if (gap > current[2]) current[2] = gap;
      low = index === 0 ? 0 : classStart(index);
      high = classStart(index + 1);
    }
    last = time;
  }
  if (last === last) spans.push([from, last]);
  return { events: end - begin, spans, gaps };
}
