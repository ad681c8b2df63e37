import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { decode, encode } from '../events/text-table.ts';
import { compileJoinRule, joinRecords, joinRule, maxJoinedLines, patternProblem, stackTraceRule } from './join.ts';
import { type Records, splitLines } from './records.ts';

function texts({ bytes, starts, ends, count }: Records): string[] {
  return Array.from({ length: count }, (_, i) => decode(bytes, starts[i] as number, ends[i] as number));
}

describe('lines', () => {
  test('end at line feeds; blank ones and blanks at their ends are left out, but counted', () => {
    const records = splitLines(encode('one\r\n\n  \t\ntwo  \nthree'));
    expect(texts(records)).toEqual(['one', 'two', 'three']);
    expect([...(records.lines ?? [])].slice(0, records.count)).toEqual([1, 4, 5]);
  });

  test('are what splitting a text gives, whatever their number', () => {
    fc.assert(
      fc.property(fc.array(fc.stringMatching(/^[a-zæ0-9]{0,6}$/), { maxLength: 3_000 }), (lines) => {
        expect(texts(splitLines(encode(lines.join('\n'))))).toEqual(lines.filter((line) => line !== ''));
      }),
      { numRuns: 30 },
    );
  });
});

describe('joined lines', () => {
  const joined = (rule: Parameters<typeof compileJoinRule>[0], lines: readonly string[]) =>
    joinRecords(splitLines(encode(lines.join('\n'))), compileJoinRule(rule));

  test('a stack trace is one record with its first line’s number', () => {
    const lines = [
      'ERROR berth 4 is taken',
      '    at assign (planner)',
      'Caused by: conflict',
      '    ... 12 more',
      'INFO next',
    ];
    const records = joined(stackTraceRule, lines);
    expect(texts(records)).toEqual([lines.slice(0, 4).join('\n'), 'INFO next']);
    expect([...(records.lines ?? [])]).toEqual([1, 5]);
  });

  test('what does not look like a first line goes on; what comes before any first line stands alone', () => {
    expect(texts(joined({ starts: '^\\d{2}:' }, ['rest', '09:00 a', 'b', '09:01 c', 'd', 'e']))).toEqual([
      'rest',
      '09:00 a\nb',
      '09:01 c\nd\ne',
    ]);
  });

  test('a record has at most so many lines', () => {
    const records = joined({ continues: '^ ' }, ['a', ...Array.from({ length: maxJoinedLines + 10 }, () => ' b')]);
    expect(records.count).toBe(2);
    expect(texts(records)[0]?.split('\n').length).toBe(maxJoinedLines);
  });

  test('no line is lost or doubled, whatever the rule says', () => {
    const line = fc.constantFrom('a', ' b', 'c', '  d', 'Caused by: e');
    fc.assert(
      fc.property(fc.array(line, { maxLength: 50 }), fc.constantFrom('^\\s', '^[ac]', 'x*', '$'), (lines, pattern) => {
        for (const rule of [{ continues: pattern }, { starts: pattern }]) {
          expect(texts(joined(rule, lines)).join('\n')).toBe(
            texts(splitLines(encode(lines.join('\n')))).length === 0 ? '' : lines.join('\n'),
          );
        }
      }),
    );
  });
});

test('a rule is either of the two, with a pattern that can be read', () => {
  expect(joinRule.isValidSync({ starts: '^\\d' })).toBe(true);
  expect(joinRule.isValidSync({ starts: '^\\d', continues: '^ ' })).toBe(false);
  expect(joinRule.isValidSync({})).toBe(false);
  expect(joinRule.isValidSync({ starts: '(' })).toBe(false);
  expect(patternProblem('(')).not.toBe('');
  expect(patternProblem('(a)')).toBeUndefined();
});
