import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { bindExpression } from './evaluate.ts';
import { functions } from './functions.ts';
import { parseExpression } from './parse.ts';

const event = {
  host: 'pier-4',
  level: 'warn',
  body: 'gate opened',
  time: new Date(arrival).toISOString(),
  bytes: 2048,
  took: '1.5',
  method: 'GET',
  path: '/fares/north',
  open: true,
};

function computed(text: string): unknown {
  const parsed = parseExpression(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return bindExpression(parsed.expression, batchOf([event], 'gates'))(0);
}

describe('values', () => {
  test.each([
    ['1 + 2 * 3', 7],
    ['(1 + 2) * 3', 9],
    ['-bytes / 1024', -2],
    ['7 % 4 - 1', 2],
    ['took * 1000', 1500],
    ['1 / 0', undefined],
    ['nothing + 1', undefined],
    ['method * 2', undefined],
    ['lower(method) & " " & path', 'get /fares/north'],
    ['"said \\"hello\\"" & ""', 'said "hello"'],
    ['source & "/" & emitter', 'gates/pier-4'],
    ['severity', 'warn'],
    ['body', 'gate opened'],
    ['time - received', 0],
    ['open & ""', 'true'],
    ['bytes / 1KB', 2.048],
    ['2s', 2],
  ])('%s is %s', (text, expected) => {
    expect(computed(text)).toBe(expected);
  });

  test.each([
    ['round(2.345, 2)', 2.35],
    ['round(2.5)', 3],
    ['floor(-1.5)', -2],
    ['ceil(1.2)', 2],
    ['abs(-3)', 3],
    ['min(3, took, 2)', 1.5],
    ['max(3, bytes)', 2048],
    ['upper("pier")', 'PIER'],
    ['trim("  x ")', 'x'],
    ['length(path)', 12],
    ['part(path, 2, 5)', 'fares'],
    ['part(path, 8)', 'north'],
    ['replace(path, "/", ".")', '.fares.north'],
    ['replace(path, "", ".")', '/fares/north'],
    ['before("a=b=c", "=")', 'a'],
    ['before("abc", "=")', 'abc'],
    ['after("a=b=c", "=")', 'b=c'],
    ['after("abc", "=")', undefined],
    ['number("12.50")', 12.5],
    ['number("twelve")', undefined],
    ['first(nothing, "", path)', '/fares/north'],
  ])('%s is %s', (text, expected) => {
    expect(computed(text)).toBe(expected);
  });
});

describe('faults', () => {
  test.each([
    ['1 +', 3, 'expected a field, a number, a text in quotes or a function'],
    ['(1', 2, 'expected a )'],
    ['1 2', 2, 'expected an operator such as + or &'],
    ['"open', 0, 'this text is not closed'],
    ['1 ! 2', 2, '! means nothing here'],
    ['12parsecs', 0, 'expected a number with a unit that is known'],
    ['abs()', 0, 'abs is written abs(number)'],
    ['round(1, 2, 3)', 0, 'round is written round(number, digits)'],
  ])('%s: at %i, %s', (text, start, message) => {
    expect(parseExpression(text)).toMatchObject({ ok: false, problem: { start, message } });
  });

  test('a function that is nearly right is suggested', () => {
    expect(parseExpression('rond(1)')).toMatchObject({ ok: false, problem: { suggestion: 'round' } });
  });

  test('nesting has an end', () => {
    expect(parseExpression(`${'('.repeat(2_000)}1${')'.repeat(2_000)}`)).toMatchObject({
      ok: false,
      problem: { message: 'expected less nesting' },
    });
    const chain = (operators: number): string => `1${' + 1'.repeat(operators)}`;
    expect(parseExpression(chain(201))).toMatchObject({
      ok: false,
      problem: { message: 'expected at most 200 operators' },
    });
    expect(parseExpression(chain(200)).ok).toBe(true);
  });

  test('any text is parsed or has a fault that is in it', () => {
    const piece = fc.constantFrom('(', ')', '+', '&', '%', ',', '"', 'abs', 'part', '1', 'x', ' ', '`a b`');
    fc.assert(
      fc.property(
        fc.oneof(
          fc.string(),
          fc.array(piece, { maxLength: 20 }).map((all) => all.join('')),
        ),
        (text) => {
          const parsed = parseExpression(text);
          if (parsed.ok) return;
          expect(parsed.problem.start).toBeGreaterThanOrEqual(0);
          expect(parsed.problem.end).toBeLessThanOrEqual(text.length);
        },
      ),
    );
  });
});

test('fields that an expression reads are known, in the order they come', () => {
  expect(parseExpression('round(took / `size of`) & path & took')).toMatchObject({
    ok: true,
    fields: ['took', 'size of', 'path'],
  });
});

test('every function says how it is written, beginning with its name', () => {
  for (const [name, { usage, help }] of functions) {
    expect(usage.startsWith(`${name}(`)).toBe(true);
    expect(help.endsWith('.')).toBe(true);
  }
});
