import { expect, test } from 'vitest';
import { compileCondition } from '../conditions/condition.ts';
import { encode } from '../events/text-table.ts';
import { compileTemplate } from '../templates/template.ts';
import { countHoleValues, holeSummaries, mergeHoleValues } from './hole-values.ts';
import { LineScanner } from './line-scanner.ts';
import { piecesOf, readableCondition, templateOfShape } from './pieces.ts';
import { batchOf } from './testing/learn.ts';
import { fieldsMark, type Skeleton } from './token.ts';

function skeletonOf(line: string): Skeleton {
  const bytes = encode(line);
  const scanner = new LineScanner();
  scanner.scan(bytes, 0, bytes.length);
  return scanner.skeleton(bytes);
}

const planner = 'ts=2026-11-24T08:15:00Z level=debug msg="candidate scored" berth="Skerryvoe 2" cache=hit took=7us';

test('holes are named by their keys, or else by what is in them', () => {
  const names = (line: string): string =>
    piecesOf(skeletonOf(line), line)
      .map((piece) => (piece.kind === 'text' ? piece.text : `{${piece.name}}`))
      .join('');
  expect(names(planner)).toBe('ts={ts} level=debug msg="candidate scored" berth="{berth}" cache={cache} took={took}');
  expect(names('192.0.2.9 - - [24/Nov/2026:09:12:33 +0000] "GET /live HTTP/1.1" 200 17')).toBe(
    '{address} {word} {word2} [{time} {code}] "GET {path} {code2}" {number} {number2}',
  );
  expect(piecesOf([fieldsMark, 'event=docked', 'n'], '')).toEqual([
    { kind: 'text', text: 'event=docked' },
    { kind: 'text', text: ' ' },
    { kind: 'hole', name: 'n', type: 'text', text: '' },
  ]);
});

test.each([planner, 'sent boarding notice for SK7F2 to passenger at Lunna', 'port 7 is "closed" {now} since 12 s'])(
  'the condition and the template of a shape are right, and hold for its line: %s',
  (line) => {
    const skeleton = skeletonOf(line);
    const compiled = compileCondition(readableCondition({ id: 'abc', skeleton, sample: line }, ['gates']));
    expect(compiled.ok).toBe(true);
    const batch = { ...batchOf([line, 'something else']), source: 'gates' };
    if (compiled.ok) expect([...compiled.condition.test(batch, { now: 0 })]).toEqual([1, 0]);
    const template = compileTemplate(templateOfShape(skeleton, line) ?? '');
    expect(template.ok).toBe(true);
    const bytes = encode(line);
    if (template.ok)
      expect(template.template.match(bytes, 0, bytes.length, new Int32Array(2 * template.template.holes.length))).toBe(
        -1,
      );
  },
);

test('a shape of few words, or of fields, is asked for by its id', () => {
  expect(readableCondition({ id: 'abc', skeleton: skeletonOf('up 7'), sample: 'up 7' }, ['a', 'b'])).toBe(
    'shape = abc',
  );
  expect(readableCondition({ id: 'abc', skeleton: [fieldsMark, 'n'], sample: 'n' }, ['a'])).toBe(
    'source = a shape = abc',
  );
  expect(templateOfShape([fieldsMark, 'n'], 'n')).toBeUndefined();
});

test('what fills the holes is counted over parts of the tape, within bounds', () => {
  const sample = 'gate 7 took 12 ms for Anna7';
  const skeleton = skeletonOf(sample);
  const one = countHoleValues(skeleton, ['gate 7 took 12 ms for Anna7', 'gate 7 took 30 ms for Bela7', 'another line']);
  mergeHoleValues(one, countHoleValues(skeleton, ['gate 8 took 3 ms for Anna7']));
  expect(holeSummaries(skeleton, sample, one)).toMatchObject([
    { distinct: 2, range: { low: 7, high: 8 } },
    { distinct: 3, range: { low: 3, high: 30 } },
    {
      distinct: 2,
      top: [
        { value: 'Anna7', count: 2 },
        { value: 'Bela7', count: 1 },
      ],
    },
  ]);
  const many = countHoleValues(
    skeletonOf('n 1'),
    Array.from({ length: 3_000 }, (_, i) => `n ${i}`),
  );
  expect(holeSummaries(skeletonOf('n 1'), 'n 1', many)).toMatchObject([{ distinct: 1_000, isMore: true }]);
});
