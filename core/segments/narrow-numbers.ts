/** Whole numbers as narrow as they may be, or numbers as they are where none are. */
export type NarrowValues = Int8Array | Int16Array | Int32Array | Float64Array;

/** Numbers in the narrowest form that gives every one of them again exactly: `values[row] / scale`. */
export interface NarrowNumbers {
  readonly values: NarrowValues;
  /** A power of ten. */
  readonly scale: number;
}

/** Decimals up to this many places are written as whole numbers. */
const mostScale = 1_000_000;
const mostWhole = 2 ** 31 - 1;

/**
 * Writes numbers as whole multiples of the largest power of a tenth that divides all of them, where there is one: what was
 * a decimal of few places is again the same double after the division (A. Afroozeh, L. Kuffo, P. Boncz, "ALP: Adaptive
 * lossless floating-point compression", 2023). `NaN` becomes 0.
 */
export function narrowed(values: Float64Array): NarrowNumbers {
  let scale = 1;
  let least = 0;
  let most = 0;
  for (let row = 0; row < values.length; row++) {
    const value = values[row] as number;
    if (value !== value) continue;
    while (Math.round(value * scale) / scale !== value) {
      scale *= 10;
      if (scale > mostScale) return { values, scale: 1 };
    }
    if (value < least) least = value;
    if (value > most) most = value;
  }
  least = Math.round(least * scale);
  most = Math.round(most * scale);
  if (most > mostWhole || least < -mostWhole) return { values, scale: 1 };
  const whole = scale === 1 ? values : multiplied(values, scale);
  if (least >= -128 && most <= 127) return { values: new Int8Array(whole), scale };
  if (least >= -32_768 && most <= 32_767) return { values: new Int16Array(whole), scale };
  return { values: new Int32Array(whole), scale };
}

function multiplied(values: Float64Array, scale: number): Float64Array {
  const whole = new Float64Array(values.length);
  for (let row = 0; row < values.length; row++) whole[row] = Math.round((values[row] as number) * scale);
  return whole;
}

/** The numbers that {@link narrowed} was given; 0 for those that were missing. */
export function widened(values: NarrowValues, scale: number): Float64Array {
  // Widened first, by the platform: a loop over arrays of several kinds is slow.
  const wide = new Float64Array(values);
  if (scale !== 1) for (let row = 0; row < wide.length; row++) wide[row] = (wide[row] as number) / scale;
  return wide;
}
