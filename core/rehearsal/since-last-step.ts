/** Fewest days on either side of a step. */
const fewestDays = 3;
/** The least difference between the means of both sides: in standard errors, and as a part of the larger mean. */
const leastErrors = 4;
const leastPart = 0.25;

/**
 * The full days after the last lasting step of a daily series; all days if there is none. The split maximizes the sum of squares
 * between both sides, and the later side is split again (A. J. Scott, M. Knott, "A cluster analysis method for grouping means in
 * the analysis of variance", Biometrics 30, 1974).
 */
export function sinceLastStep(days: Float64Array): Float64Array {
  let best = { at: 0, between: 0, within: Number.POSITIVE_INFINITY, part: 0 };
  const all = sums(days);
  for (let at = fewestDays; at <= days.length - fewestDays; at++) {
    const before = sums(days.subarray(0, at));
    const after = sums(days.subarray(at));
    const within = before.squares + after.squares;
    const between = all.squares - within;
    const part = Math.abs(after.mean - before.mean) / Math.max(Math.abs(after.mean), Math.abs(before.mean), 1);
    if (between > best.between) best = { at, between, within, part };
  }
  const isStep =
    best.part > leastPart && best.between > leastErrors ** 2 * (best.within / Math.max(1, days.length - 2));
  // The step may have happened in the middle of its day.
  return isStep ? sinceLastStep(days.subarray(best.at + 1)) : days;
}

/** The mean, and the sum of the squared differences from it. */
function sums(values: Float64Array): { readonly mean: number; readonly squares: number } {
  const mean = values.reduce((sum, value) => sum + value, 0) / Math.max(1, values.length);
  return { mean, squares: values.reduce((sum, value) => sum + (value - mean) ** 2, 0) };
}
