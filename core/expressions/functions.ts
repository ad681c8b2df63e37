/** A value of an expression; undefined where the event lacks something that is needed. */
export type Value = number | string | undefined;

/** A function of expressions. */
export interface ExpressionFunction {
  /** How it is written: `round(number, digits)`. */
  readonly usage: string;
  readonly help: string;
  readonly least: number;
  readonly most: number;
  readonly apply: (inputs: readonly Value[]) => Value;
}

/** A value as a number; undefined when it is none. */
export function numberOf(value: Value): number | undefined {
  if (typeof value === 'number') return value;
  if (value === undefined || value.trim() === '') return undefined;
  const number = Number(value);
  return Number.isFinite(number) ? number : undefined;
}

/** A value as text. */
export function textOf(value: Value): string | undefined {
  return typeof value === 'number' ? String(value) : value;
}

function ofNumbers(usage: string, help: string, apply: (...numbers: number[]) => number, least: number, most = least) {
  return {
    usage,
    help,
    least,
    most,
    apply: (inputs: readonly Value[]): Value => {
      const numbers = inputs.map(numberOf);
      if (numbers.includes(undefined)) return undefined;
      const value = apply(...(numbers as number[]));
      return Number.isFinite(value) ? value : undefined;
    },
  };
}

function ofTexts(usage: string, help: string, apply: (...texts: string[]) => Value, least: number, most = least) {
  return {
    usage,
    help,
    least,
    most,
    apply: (inputs: readonly Value[]): Value => {
      const texts = inputs.map(textOf);
      return texts.includes(undefined) ? undefined : apply(...(texts as string[]));
    },
  };
}

/** Rounds to some decimals; halves go up. */
function round(value: number, digits = 0): number {
  const scale = 10 ** Math.min(15, Math.max(0, Math.floor(digits)));
  return Math.round(value * scale) / scale;
}

/** Longest text that an expression makes; it is cut there. */
export const longestText = 32_768;

/** All functions by name. */
export const functions: ReadonlyMap<string, ExpressionFunction> = new Map(
  Object.entries({
    round: ofNumbers('round(number, digits)', 'Rounds; digits may be left out.', round, 1, 2),
    floor: ofNumbers('floor(number)', 'The next whole number below.', Math.floor, 1),
    ceil: ofNumbers('ceil(number)', 'The next whole number above.', Math.ceil, 1),
    abs: ofNumbers('abs(number)', 'Without its sign.', Math.abs, 1),
    min: ofNumbers('min(number, …)', 'The least of some numbers.', Math.min, 1, 20),
    max: ofNumbers('max(number, …)', 'The largest of some numbers.', Math.max, 1, 20),
    lower: ofTexts('lower(text)', 'In small letters.', (text) => text.toLowerCase(), 1),
    upper: ofTexts('upper(text)', 'In capitals.', (text) => text.toUpperCase(), 1),
    trim: ofTexts('trim(text)', 'Without blanks at both ends.', (text) => text.trim(), 1),
    length: ofTexts('length(text)', 'Number of characters.', (text) => text.length, 1),
    part: ofTexts(
      'part(text, from, length)',
      'Characters from a place on, counted from 1; the length may be left out.',
      (text, from, length) => {
        const start = Math.max(0, Number(from) - 1);
        return text.slice(start, length === undefined ? undefined : start + Number(length));
      },
      2,
      3,
    ),
    replace: ofTexts(
      'replace(text, find, by)',
      'Every occurrence of a text replaced.',
      (text, find, by) => (find === '' ? text : text.replaceAll(find as string, () => by as string)),
      3,
    ),
    before: ofTexts(
      'before(text, mark)',
      'What stands before the first mark; the whole text where there is none.',
      (text, mark) => text.split(mark as string, 1)[0],
      2,
    ),
    after: ofTexts(
      'after(text, mark)',
      'What stands behind the first mark; nothing where there is none.',
      (text, mark) => {
        const at = text.indexOf(mark as string);
        return at < 0 ? undefined : text.slice(at + (mark as string).length);
      },
      2,
    ),
    number: {
      usage: 'number(text)',
      help: 'A text as a number.',
      least: 1,
      most: 1,
      apply: ([value]: readonly Value[]) => numberOf(value),
    },
    first: {
      usage: 'first(value, …)',
      help: 'The first value that the event has.',
      least: 1,
      most: 20,
      apply: (inputs: readonly Value[]) => inputs.find((value) => value !== undefined && value !== ''),
    },
  }),
);
