/** Classes of gap lengths: four to each doubling, from 1 ms to about 50 days. */
export const gapClasses = 129;

/** The class of a gap (milliseconds). */
export function classOf(gap: number): number {
  return Math.min(gapClasses - 1, Math.max(0, Math.floor(Math.log2(Math.max(1, gap)) * 4)));
}

const starts = Float64Array.from({ length: gapClasses + 1 }, (_, index) => 2 ** (index / 4));

/** Where a class begins, in milliseconds. */
export function classStart(index: number): number {
  return starts[index] as number;
}
