import { decode } from './text-table.ts';

/** Powers of ten that a double holds exactly, so that one division rounds correctly. */
const powers = Array.from({ length: 23 }, (_, exponent) => 10 ** exponent);

/**
 * The decimal number in `bytes[start..end)`, or `NaN`. Up to 15 significant digits are read directly, which is exact
 * (W. D. Clinger, "How to Read Floating Point Numbers Accurately", the fast case); the rest goes to the language.
 */
export function readNumber(bytes: Uint8Array, start: number, end: number): number {
  let at = start;
  const negative = bytes[at] === 45;
  if (negative) at++;
  let mantissa = 0;
  let digits = 0;
  let decimals = 0;
  let point = false;
  for (; at < end; at++) {
    const digit = (bytes[at] as number) - 48;
    if (digit >= 0 && digit <= 9) {
      mantissa = mantissa * 10 + digit;
      if (mantissa > 0) digits++;
      if (point) decimals++;
    } else if (digit === -2 && !point && at > start) point = true;
    else return readSlowly(bytes, start, end);
  }
  if (digits > 15 || decimals > 22) return readSlowly(bytes, start, end);
  if (at === start + (negative ? 1 : 0) || (point && decimals === 0)) return Number.NaN;
  const value = decimals === 0 ? mantissa : mantissa / (powers[decimals] as number);
  return negative ? -value : value;
}

/** Longest text that is taken for a number, in bytes. */
const longestNumber = 400;

const decimal = /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i;

function readSlowly(bytes: Uint8Array, start: number, end: number): number {
  if (end - start > longestNumber) return Number.NaN;
  const text = decode(bytes, start, end);
  const value = decimal.test(text) ? Number(text) : Number.NaN;
  return Number.isFinite(value) ? value : Number.NaN;
}

/** Whether `bytes[start..end)` is a decimal number that is too large for a double. */
export function isInfinite(bytes: Uint8Array, start: number, end: number): boolean {
  const text = decode(bytes, start, Math.min(end, start + longestNumber));
  return end - start <= longestNumber && decimal.test(text) && !Number.isFinite(Number(text));
}
