/** A table of numbers by keys of 64 bits, in two halves. */
export interface ShapeTable {
  /** The number of a key; −1 where it has none. */
  readonly get: (high: number, low: number) => number;
  /** Sets the number of a key; when the table is full, everything else is forgotten first. */
  readonly set: (high: number, low: number, number: number) => void;
  readonly clear: () => void;
}

/** An empty table for up to `most` keys (open addressing with linear probing). */
export function shapeTable(most: number): ShapeTable {
  const size = 2 ** Math.ceil(Math.log2(most * 2));
  const mask = size - 1;
  const highs = new Int32Array(size);
  const lows = new Int32Array(size);
  const numbers = new Int32Array(size);
  let count = 0;
  const placeOf = (high: number, low: number): number => {
    let place = (high ^ (low >>> 7)) & mask;
    while (numbers[place] !== 0 && (highs[place] !== high || lows[place] !== low)) place = (place + 1) & mask;
    return place;
  };
  const clear = (): void => {
    numbers.fill(0);
    count = 0;
  };
  return {
    get: (high, low) => (numbers[placeOf(high, low)] as number) - 1,
    set: (high, low, number) => {
      if (count >= most) clear();
      const place = placeOf(high, low);
      if (numbers[place] === 0) count++;
      highs[place] = high;
      lows[place] = low;
      numbers[place] = number + 1;
    },
    clear,
  };
}
