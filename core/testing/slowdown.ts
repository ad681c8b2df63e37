/**
 * How many times as long work takes for a long input as for a short one. Each counts with its fastest run of nine:
 * what else the machine does only ever adds to a run, and one run in nine goes without.
 *
 * @param prepare makes the input of a length, outside what is measured, and returns the work on it
 * @returns a ratio; runs of less than 5 µs count as 5 µs
 */
export function slowdown(prepare: (length: number) => () => unknown, [short, long]: readonly [number, number]): number {
  return fastest(prepare(long)) / fastest(prepare(short));
}

function fastest(work: () => unknown): number {
  let least = Number.POSITIVE_INFINITY;
  for (let run = 0; run < 9; run++) {
    const begun = performance.now();
    work();
    least = Math.min(least, performance.now() - begun);
  }
  return Math.max(0.005, least);
}
