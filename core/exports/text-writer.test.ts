import fc from 'fast-check';
import { expect, test } from 'vitest';
import { csvCell } from '../tables/csv.ts';
import { TextWriter } from './text-writer.ts';

const encode = (text: string): Uint8Array => new TextEncoder().encode(text);
const text = fc.oneof(
  fc.string({ unit: 'binary' }),
  fc.constantFrom('=cmd()', '-5', 'a "b", c', 'line\r\nline', '\u0000\u001f\\"/', 'ünïcödé 🚢', '+', ''),
);

/** What was written for one text between two others, which stay as they are. */
function written(write: (writer: TextWriter, bytes: Uint8Array) => void, given: string): string {
  const writer = new TextWriter();
  writer.addText('<');
  write(writer, encode(given));
  writer.addText('>');
  return new TextDecoder('utf-8', { ignoreBOM: true }).decode(writer.written());
}

test('texts are written as JSON and as CSV like strings are', () => {
  fc.assert(
    fc.property(text, (given) => {
      // What is no Unicode is not told apart in UTF-8.
      const known = new TextDecoder('utf-8', { ignoreBOM: true }).decode(encode(given));
      expect(written((writer, bytes) => writer.addJson(bytes, 0, bytes.length), given)).toBe(
        `<${JSON.stringify(known)}>`,
      );
      expect(written((writer, bytes) => writer.addCsv(bytes, 0, bytes.length), given)).toBe(`<${csvCell(known)}>`);
    }),
    { numRuns: 500 },
  );
});

test('strings and numbers are written as JavaScript has them', () => {
  const number = fc.oneof(
    fc.integer(),
    fc.double({ noNaN: true, noDefaultInfinity: true }),
    fc.constantFrom(-0, 9, 10, 2 ** 31),
  );
  fc.assert(
    fc.property(fc.array(fc.oneof(text, number)), (given) => {
      const writer = new TextWriter();
      for (const one of given) typeof one === 'number' ? writer.addNumber(one) : writer.addText(one);
      expect(Buffer.from(writer.written())).toEqual(Buffer.concat(given.map((one) => encode(String(one)))));
    }),
    { numRuns: 500 },
  );
});

test('times are written as dates are', () => {
  fc.assert(
    fc.property(fc.array(fc.date({ noInvalidDate: true })), (dates) => {
      const writer = new TextWriter();
      for (const date of dates) writer.addTime(date.getTime() + 0.25);
      expect(new TextDecoder().decode(writer.written())).toBe(dates.map((date) => date.toISOString()).join(''));
    }),
  );
});

test('it grows as it has to', () => {
  const writer = new TextWriter();
  const long = encode('x'.repeat(700_000));
  for (let i = 0; i < 5; i++) writer.addJson(long, 0, long.length);
  expect(writer.written().length).toBe(5 * 700_002);
});
