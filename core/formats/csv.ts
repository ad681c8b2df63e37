/** Receives each value of a line: its number from 0 and its bytes, quotes taken off. */
export type ValueVisitor = (index: number, bytes: Uint8Array, start: number, end: number) => void;

const quote = 34;

/**
 * Cuts one record of separated values (RFC 4180): values in double quotes may hold the separator, and two quotes stand
 * for one. Returns undefined, or a sentence when a quote is not closed or text follows one. Linear in the length.
 */
export function readCsvLine(
  bytes: Uint8Array,
  start: number,
  end: number,
  separator: number,
  visit: ValueVisitor,
): string | undefined {
  let at = start;
  for (let index = 0; ; index++) {
    if (bytes[at] !== quote || at >= end) {
      let stop = bytes.indexOf(separator, at);
      if (stop < 0 || stop > end) stop = end;
      visit(index, bytes, at, stop);
      at = stop;
    } else {
      const close = closingQuote(bytes, at + 1, end);
      if (close.at < 0) return `value ${index + 1} begins with a quote that is not closed`;
      if (close.doubled) {
        const text = withoutDoubled(bytes, at + 1, close.at);
        visit(index, text, 0, text.length);
      } else visit(index, bytes, at + 1, close.at);
      at = close.at + 1;
      if (at < end && bytes[at] !== separator) return `text follows the quoted value ${index + 1}`;
    }
    if (at >= end) return undefined;
    at++;
  }
}

function closingQuote(bytes: Uint8Array, from: number, end: number): { at: number; doubled: boolean } {
  let doubled = false;
  for (let at = from; at < end; at++) {
    if (bytes[at] !== quote) continue;
    if (bytes[at + 1] !== quote || at + 1 >= end) return { at, doubled };
    doubled = true;
    at++;
  }
  return { at: -1, doubled };
}

function withoutDoubled(bytes: Uint8Array, start: number, end: number): Uint8Array {
  const text = new Uint8Array(end - start);
  let length = 0;
  for (let at = start; at < end; at++) {
    text[length++] = bytes[at] as number;
    if (bytes[at] === quote) at++;
  }
  return text.subarray(0, length);
}

/** The byte of a separator as plans name it: a character, `tab`, or the comma when it is not given. */
export function separatorByte(separator: string | undefined): number {
  if (separator === 'tab' || separator === '\t') return 9;
  return separator ? separator.charCodeAt(0) : 44;
}

/** All records of a CSV text (RFC 4180), line breaks inside quotes included; empty lines are left out. */
export function parseCsv(text: string): readonly (readonly string[])[] {
  const records: string[][] = [];
  let record: string[] = [];
  let value = '';
  let quoted = false;
  let at = text.charCodeAt(0) === 0xfeff ? 1 : 0;
  const close = (): void => {
    record.push(value);
    value = '';
    if (record.length > 1 || record[0] !== '') records.push(record);
    record = [];
  };
  for (; at < text.length; at++) {
    const char = text.charAt(at);
    if (quoted) {
      if (char !== '"') value += char;
      else if (text.charAt(at + 1) === '"') {
        value += '"';
        at++;
      } else quoted = false;
    } else if (char === '"' && value === '') quoted = true;
    else if (char === ',') {
      record.push(value);
      value = '';
    } else if (char === '\n') close();
    else if (char !== '\r') value += char;
  }
  if (value !== '' || record.length > 0) close();
  return records;
}
