/** Letters and digits that are not taken for each other (D. Crockford, "Base 32"). */
const digits = '0123456789abcdefghjkmnpqrstvwxyz';

/** Digits of an id: 50 bits, so that of 20,000 shapes two share one once in five million installations. */
const length = 10;

/** The shape of what is beyond the number of shapes that are told apart. */
export const otherShape = 'other';

/** The id of the shape that a skeleton begins, by its hash: every engine gives the same. */
export function shapeId(high: number, low: number): string {
  let id = '';
  let [a, b] = [high >>> 0, low >>> 0];
  for (let i = 0; i < length / 2; i++) {
    id += (digits[a & 31] as string) + (digits[b & 31] as string);
    a >>>= 5;
    b >>>= 5;
  }
  return id;
}
