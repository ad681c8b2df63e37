/** The sizes of records as numbers to reckon with: `NaN` for 0, which stands where the size is not known. */
export function rawSizes(size: Uint32Array): Float64Array {
  const values = new Float64Array(size.length);
  for (let row = 0; row < size.length; row++) values[row] = size[row] || Number.NaN;
  return values;
}
