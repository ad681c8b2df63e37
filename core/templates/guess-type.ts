import { readAddress } from '../events/address.ts';
import { decode, encode } from '../events/text-table.ts';
import { holeTypes } from './hole-types.ts';

/** Types in the order in which they are tried: those that fit fewer texts come first. */
const order = ['iso', 'clf', 'syslog', 'time', 'int', 'number', 'duration', 'size', 'ip', 'quoted', 'json'] as const;

/** The hole type that fits all of some values, `text` where none does. Without a value it is `text` too. */
export function guessType(values: readonly string[]): string {
  if (values.length === 0) return 'text';
  return order.find((type) => values.every((value) => fitsType(value, type))) ?? 'text';
}

/** Whether a value, from end to end, is of a hole type. */
export function fitsType(value: string, name: string): boolean {
  const type = holeTypes.get(name);
  if (!type?.extent) return name === 'text';
  const bytes = encode(value);
  if (type.extent(bytes, 0, bytes.length) !== bytes.length) return false;
  if (name === 'ip') return readAddress(value) !== undefined;
  if (name === 'duration' || name === 'size') {
    const number = type.read?.(bytes, 0, bytes.length, 0) ?? Number.NaN;
    return number === number && /[a-z]/i.test(decode(bytes, bytes.length - 1, bytes.length));
  }
  // Numbers with leading zeros are codes: reading them as numbers would lose the zeros.
  if ((name === 'int' || name === 'number') && /^[+-]?0\d/.test(value)) return false;
  const read = type.read?.(bytes, 0, bytes.length, 0);
  return read === undefined || read === read;
}
