/**
 * Figures over time, in steps of equal length. `values[i]` is what was measured in step `i`, as a multiple of what was to be expected
 * there; `weights[i]` is the inverse of its variance up to a constant factor, 0 for unknown.
 */
export interface Series {
  readonly values: Float64Array;
  readonly weights: Float64Array;
}

/** A stretch of a series in which the figure stays about the same: steps `from` up to, not including, `to`. */
export interface Level {
  readonly from: number;
  readonly to: number;
  /** Mean of its values, by their weights. */
  readonly mean: number;
}

/**
 * Penalty for another level, in logarithms of the number of steps. The information criterion of Schwarz (1978) asks for 2; traffic is
 * autocorrelated, which makes random levels more likely, so it is higher.
 */
const levelsCost = 5;

/**
 * Splits a series into levels, in order, by PELT (pruned exact linear time; R. Killick, P. Fearnhead and I. A. Eckley 2012) with the
 * weighted squared distance from the mean as cost. Each level has at least `shortest` steps; an empty series has none.
 */
export function levelsOf(series: Series, shortest = 1): readonly Level[] {
  const { length } = series.values;
  if (length === 0) return [];
  const sums = sumsOf(series);
  const noise = noiseOf(series);
  const penalty = levelsCost * Math.log(Math.max(2, length)) * noise;
  // least[i]: what the best levels of the first i steps cost; before[i]: where the last of them begins.
  const least = new Float64Array(length + 1).fill(Number.POSITIVE_INFINITY);
  const before = new Int32Array(length + 1);
  least[0] = -penalty;
  let starts: number[] = [0];
  for (let end = 1; end <= length; end++) {
    const costs = starts.map((start) => (least[start] as number) + squares(sums, start, end));
    starts.forEach((start, i) => {
      const cost = (costs[i] as number) + penalty;
      if (end - start < Math.min(shortest, length) || cost >= (least[end] as number)) return;
      least[end] = cost;
      before[end] = start;
    });
    // A start that costs more than the best without a further level can never be part of the best (the pruning of PELT).
    starts = starts.filter((start, i) => end - start < shortest || (costs[i] as number) <= (least[end] as number));
    starts.push(end);
  }
  const levels: Level[] = [];
  for (let to = length; to > 0; to = before[to] as number) {
    const from = before[to] as number;
    levels.push({ from, to, mean: mean(sums, from, to) });
  }
  return levels.reverse();
}

/**
 * The index between `from` and `to` at which splitting the series into two rates fits best: by Poisson likelihood with the weights as
 * exposure, or by squared distance if values are negative. At least `from + 1`.
 */
export function changeWithin(series: Series, from: number, to: number): number {
  const sums = sumsOf(series);
  const cost = series.values.some((value) => value < 0) ? squares : deviance;
  let best = from + 1;
  let least = Number.POSITIVE_INFINITY;
  for (let at = from + 1; at < to; at++) {
    const both = cost(sums, from, at) + cost(sums, at, to);
    if (both >= least) continue;
    least = both;
    best = at;
  }
  return best;
}

/**
 * Fits a level that turns into a straight line at one index. Returns the best index and the cost relative to that of the best jump:
 * below 1 if the line fits better.
 */
export function bendWithin(series: Series, from: number, to: number): { readonly at: number; readonly cost: number } {
  const sums = sumsOf(series);
  let ofJump = Number.POSITIVE_INFINITY;
  for (let at = from + 1; at < to; at++) ofJump = Math.min(ofJump, squares(sums, from, at) + squares(sums, at, to));
  let best = { at: from + 1, cost: Number.POSITIVE_INFINITY };
  for (let at = from + 1; at < to - 1; at++) {
    const cost = bentSquares(series, from, at, to);
    if (cost < best.cost) best = { at, cost };
  }
  return { at: best.at, cost: ofJump > 0 ? best.cost / ofJump : 1 };
}

/** Weighted squared residuals of a level that turns into a straight line at `at` (least squares). */
function bentSquares({ values, weights }: Series, from: number, at: number, to: number): number {
  let [w, x, xx, y, xy, yy] = [0, 0, 0, 0, 0, 0];
  for (let i = from; i < to; i++) {
    const weight = weights[i] as number;
    const bend = Math.max(0, i - at + 0.5);
    const value = values[i] as number;
    w += weight;
    x += weight * bend;
    xx += weight * bend * bend;
    y += weight * value;
    xy += weight * bend * value;
    yy += weight * value * value;
  }
  if (w === 0) return 0;
  const spread = xx - (x * x) / w;
  const slope = spread > 0 ? (xy - (x * y) / w) / spread : 0;
  return Math.max(0, yy - (y * y) / w - slope * (xy - (x * y) / w));
}

/** Running sums over the first steps: of weights, of values and of their squares, by weights. */
interface Sums {
  readonly weight: Float64Array;
  readonly value: Float64Array;
  readonly square: Float64Array;
}

function sumsOf({ values, weights }: Series): Sums {
  const { length } = values;
  const weight = new Float64Array(length + 1);
  const value = new Float64Array(length + 1);
  const square = new Float64Array(length + 1);
  for (let i = 0; i < length; i++) {
    const [w, v] = [weights[i] as number, values[i] as number];
    weight[i + 1] = (weight[i] as number) + w;
    value[i + 1] = (value[i] as number) + w * v;
    square[i + 1] = (square[i] as number) + w * v * v;
  }
  return { weight, value, square };
}

function mean({ weight, value }: Sums, from: number, to: number): number {
  const w = (weight[to] as number) - (weight[from] as number);
  return w > 0 ? ((value[to] as number) - (value[from] as number)) / w : 0;
}

/** Weighted squares of the differences from the mean of some steps. */
function squares({ weight, value, square }: Sums, from: number, to: number): number {
  const w = (weight[to] as number) - (weight[from] as number);
  if (w <= 0) return 0;
  const v = (value[to] as number) - (value[from] as number);
  return Math.max(0, (square[to] as number) - (square[from] as number) - (v * v) / w);
}

/** Poisson deviance of some steps under one common rate, up to a constant. */
function deviance({ weight, value }: Sums, from: number, to: number): number {
  const w = (weight[to] as number) - (weight[from] as number);
  const v = (value[to] as number) - (value[from] as number);
  return w > 0 && v > 0 ? -2 * v * Math.log(v / w) : 0;
}

/** The largest differences are ignored as level changes; the second is what remains of the variance of a normal distribution. */
const leftOut = 0.02;
const squaresLeft = 0.857;

/** The variance of a value of weight 1, estimated from differences of neighbours (J. von Neumann 1941), so that level changes hardly count. */
export function noiseOf({ values, weights }: Series): number {
  const differences: number[] = [];
  for (let i = 1; i < values.length; i++) {
    const [a, b] = [weights[i - 1] as number, weights[i] as number];
    if (a > 0 && b > 0) differences.push((((values[i] as number) - (values[i - 1] as number)) ** 2 * a * b) / (a + b));
  }
  const sorted = Float64Array.from(differences).sort();
  const counted = Math.ceil(sorted.length * (1 - leftOut));
  let sum = 0;
  for (let i = 0; i < counted; i++) sum += sorted[i] as number;
  return Math.max(sum / Math.max(1, sorted.length) / squaresLeft, Number.EPSILON);
}
