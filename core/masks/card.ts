import { type Detector, isDigit, isWordByte } from './detector.ts';

/** Lengths of card numbers (ISO/IEC 7812-1 allows up to 19 digits; shorter than 13 are not issued). */
const shortest = 13;
const longest = 19;

/** Whether the check digit of some decimal digits is right (the Luhn formula, ISO/IEC 7812-1, annex B). */
export function hasCheckDigit(digits: readonly number[]): boolean {
  let sum = 0;
  for (let i = 0; i < digits.length; i++) {
    const digit = digits[digits.length - 1 - i] as number;
    const doubled = i % 2 === 1 ? digit * 2 : digit;
    sum += doubled > 9 ? doubled - 9 : doubled;
  }
  return sum % 10 === 0;
}

/** Numbers of payment cards: 13 to 19 digits, in groups or not, with a right check digit. */
export const card: Detector = {
  id: 'card',
  title: 'Card numbers',
  help: 'Takes 13 to 19 digits, with single blanks or dashes between groups, whose check digit is right.',
  find: (bytes, start, end, visit) => {
    let at = start;
    while (at < end) {
      if (!isDigit(bytes[at])) {
        at++;
        continue;
      }
      const first = at;
      const digits: number[] = [];
      let last = at;
      while (at < end) {
        const byte = bytes[at] as number;
        if (isDigit(byte)) {
          if (digits.length <= longest) digits.push(byte - 48);
          last = ++at;
        } else if ((byte === 32 || byte === 45) && isDigit(bytes[at + 1]) && at + 1 < end) at++;
        else break;
      }
      const alone = (first === start || !isWordByte(bytes[first - 1])) && (last >= end || !isWordByte(bytes[last]));
      const fits = digits.length >= shortest && digits.length <= longest && digits.some((digit) => digit !== 0);
      if (alone && fits && hasCheckDigit(digits)) visit(first, last);
    }
  },
};
