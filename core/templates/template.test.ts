import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { type GeneratedMatch, generateMatch } from './generate.ts';
import { interpretMatch } from './interpret.ts';
import { readPairs } from './pairs.ts';
import { parseTemplate } from './parse.ts';
import { templateOf } from './template.ts';

/** The values that a template takes out of a line, by name; or the index of the piece that did not fit. */
function cut(text: string, line: string): Record<string, string> | number {
  const template = templateOf(text);
  const bytes = encode(line);
  const spans = new Int32Array(template.holes.length * 2);
  const failed = template.match(bytes, 0, bytes.length, spans);
  if (failed >= 0) return failed;
  const entries = template.holes.flatMap((hole, i) => {
    const start = spans[i * 2] as number;
    return start < 0 || hole.name === '' ? [] : [[hole.name, decode(bytes, start, spans[i * 2 + 1] as number)]];
  });
  return Object.fromEntries(entries);
}

describe('what a template takes out of a line', () => {
  test.each([
    ['{a} {b}', 'one two', { a: 'one', b: 'two' }],
    ['{a} {b}', 'one    two', { a: 'one', b: 'two' }],
    ['{a}, {}, {c}', 'x, y, z', { a: 'x', c: 'z' }],
    ['[{at:clf}] {rest:rest}', '[24/Nov/2026:09:41:12 +0000] a b', { at: '24/Nov/2026:09:41:12 +0000', rest: 'a b' }],
    ['{amount:number}{currency}', '38.50EUR', { amount: '38.50', currency: 'EUR' }],
    ['{user?} x', '- x', {}],
    ['"{agent?}" x', '"" x', {}],
    ['{{{n:int}}}', '{7}', { n: '7' }],
    ['{m:quoted} end', '"a \\" b" end', { m: 'a \\" b' }],
    ['{j:json} end', '{"a":[1,{"b":"}"}]} end', { j: '{"a":[1,{"b":"}"}]}' }],
    ['{at:iso} {w}', '2026-11-24 09:41:12.480 up', { at: '2026-11-24 09:41:12.480', w: 'up' }],
    ['{ip:ip}:{port:int}', '192.0.2.7:80', 1],
    ['{ip:ip} {port:int}', '2001:db8::1 80', { ip: '2001:db8::1', port: '80' }],
    ['took={took:duration} ref={ref}', 'took=212ms ref=SKL-1', { took: '212ms', ref: 'SKL-1' }],
    ['a={a} b={b}', 'a=1 c=2', 2],
    ['{a}!', 'no mark', 1],
    ['{a:int}', '12 more', 1],
  ])('%s on %s', (template, line, expected) => {
    expect(cut(template, line)).toEqual(expected);
  });
});

test('it agrees with a regular expression that says the same', () => {
  const word = fc.string({ unit: fc.constantFrom(...'abc1'), minLength: 1, maxLength: 6 });
  fc.assert(
    fc.property(word, fc.nat(), word, fc.constantFrom(' ', '  '), (a, n, b, gap) => {
      const line = `${a} [${n}]${gap}key=${b}`;
      const expected = /^(?<a>[^ ]+) \[(?<n>\d+)\] +key=(?<b>.+)$/.exec(line)?.groups;
      expect(cut('{a} [{n:int}] key={b}', line)).toEqual({ ...expected });
    }),
  );
});

test('where no code may be made, it is gone through step by step to the same end', () => {
  const piece = fc.constantFrom(
    '{a}',
    '{b?}',
    '{}',
    '{n:int}',
    '{p:path}',
    '{q:quoted}',
    '{t:iso}',
    ' ',
    'a',
    '=',
    ' a',
    'b  ',
    '"',
    '[',
  );
  const line = fc.string({ unit: fc.constantFrom(...'ab1 =-"[]/', '\t', '  '), maxLength: 40 });
  fc.assert(
    fc.property(fc.array(piece, { minLength: 1, maxLength: 7 }), line, (parts, text) => {
      const parsed = parseTemplate(parts.join(''));
      if (!parsed.ok) return;
      const bytes = encode(text);
      const outcome = ({ match, failedAt }: GeneratedMatch) => {
        const spans = new Int32Array(20).fill(-2);
        const failed = match(bytes, 0, bytes.length, spans);
        return failed < 0 ? [...spans] : [failed, failedAt()];
      };
      expect(outcome(interpretMatch(parsed.pieces))).toEqual(outcome(generateMatch(parsed.pieces)));
    }),
    { numRuns: 20_000 },
  );
});

test('no line makes it throw or hang', () => {
  const template = templateOf('{at:iso} {lvl} pay[{w:int}] {m:quoted} {j:json} a  b={x} {p:pairs}');
  const spans = new Int32Array(template.holes.length * 2);
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom(...'20-6:T. {}"[]\\a=b'), maxLength: 200 }), (line) => {
      const bytes = encode(line);
      template.match(bytes, 0, bytes.length, spans);
    }),
    { numRuns: 2_000 },
  );
});

test.each([
  ['{a', 0, undefined],
  ['a}', 1, undefined],
  ['{a}{b}', 0, undefined],
  ['{a:nubmer}', 0, 'number'],
  ['plain', 0, undefined],
])('%s is refused with its place', (text, start, suggestion) => {
  const parsed = parseTemplate(text);
  if (parsed.ok) throw new Error('was taken');
  expect(parsed.problem.start).toBe(start);
  expect(parsed.problem.suggestion).toBe(suggestion);
});

test('pairs, with quotes and commas', () => {
  const bytes = encode('level=info msg="two words", n=7 noise =x');
  const pairs: [string, string][] = [];
  readPairs(bytes, 0, bytes.length, (a, b, c, d) => pairs.push([decode(bytes, a, b), decode(bytes, c, d)]));
  expect(pairs).toEqual([
    ['level', 'info'],
    ['msg', 'two words'],
    ['n', '7'],
  ]);
});

describe('constant text', () => {
  const failure = (text: string, line: string): readonly [piece: number, at: number] => {
    const template = templateOf(text);
    const bytes = encode(line);
    const piece = template.match(bytes, 0, bytes.length, new Int32Array(template.holes.length * 2));
    return [piece, template.failedAt()];
  };

  test.each([
    ['gate {id} is  open', 'gate 4 is open', true],
    ['gate {id} is open', 'gate\t4   is \t open  ', true],
    ['gate {id} is open', 'gate 4 isopen', false],
    ['{id} a b', 'x  a  a b', true],
    ['{id} ab', 'x a ab', true],
    ['{id}ab', 'xaab', true],
  ])('%j fits %j: %s', (text, line, fits) => {
    expect(failure(text, line)[0] < 0).toBe(fits);
  });

  test('that is cut off by the end of the line is missing where it begins', () => {
    for (const line of ['gate 4 is ope', 'gate 4 is', 'gate 4 is   '])
      expect(failure('gate {id:int} is open', line)).toEqual([2, 6]);
    expect(failure('gate {id}', 'gat')).toEqual([0, 0]);
  });

  test('is not looked for beyond the line, where others follow in the same bytes', () => {
    const template = templateOf('{id} is open');
    const bytes = encode('gate 4 is open');
    expect(template.match(bytes, 0, bytes.length - 1, new Int32Array(2))).not.toBe(-1);
  });
});
