import fc from 'fast-check';
import { expect, test } from 'vitest';
import { parseSummary } from './parse-summary.ts';
import { writeSpan, writeSummary } from './write-summary.ts';

function summaryOf(text: string) {
  const parsed = parseSummary(text);
  if (!parsed.ok) throw new Error(`${text}: ${parsed.problem.message}`);
  const { text: _, ...summary } = parsed.summary;
  return summary;
}

test.each([
  'count() by source every 5m',
  'count(), p95(took) by service, `my field` every 1m having p95(took) > 200ms sort by count() desc top 10',
  'sum(bytes) / count() as mean by path',
  '(count() + sum(n)) * 2 - sum(n) / (count() - 1)',
  'age(last(time)) by source sort by source asc',
  'count() by `every`, `by`',
  'count() having count() >= -3',
])('%s is written as it was read', (text) => {
  const summary = summaryOf(text);
  const written = writeSummary(summary);
  expect(writeSummary(summaryOf(written))).toBe(written);
  const { columns: _, ...rest } = summary;
  const { columns: again, ...others } = summaryOf(written);
  expect(others).toEqual(rest);
  expect(again.map(({ formula }) => formula)).toEqual(summary.columns.map(({ formula }) => formula));
});

const name = fc.constantFrom('took', 'my field', 'every', 'status-code', '@x', 'a.b');
const figure = fc.oneof(
  fc.constant('count()'),
  fc.tuple(fc.constantFrom('sum', 'p95', 'distinct', 'last'), name).map(([f, field]) => `${f}(\`${field}\`)`),
);
const formula = fc.letrec<{ formula: string }>((tie) => ({
  formula: fc.oneof(
    { depthSize: 'small', withCrossShrink: true },
    figure,
    fc.nat(99).map(String),
    fc
      .tuple(tie('formula'), fc.constantFrom('+', '-', '*', '/'), tie('formula'))
      .map(([a, op, b]) => `(${a}) ${op} (${b})`),
  ),
})).formula;

test('any written summary parses to the same summary', () => {
  fc.assert(
    fc.property(
      fc.array(formula, { minLength: 1, maxLength: 3 }),
      fc.uniqueArray(name, { maxLength: 4 }),
      fc.constantFrom('', ' every 90s', ' every 1500ms'),
      fc.constantFrom('', ' having count() > 5ms', ' top 7'),
      (figures, keys, every, rest) => {
        const by = keys.length > 0 ? ` by ${keys.map((key) => `\`${key}\``).join(', ')}` : '';
        const summary = summaryOf(`${figures.join(', ')}${by}${every}${rest}`);
        const again = summaryOf(writeSummary(summary));
        expect({ ...again, columns: again.columns.map((column) => column.formula) }).toEqual({
          ...summary,
          columns: summary.columns.map((column) => column.formula),
        });
      },
    ),
  );
});

test('spans are written in their largest whole unit', () => {
  expect([1_500, 90_000, 300_000, 86_400_000].map(writeSpan)).toEqual(['1500ms', '90s', '5m', '1d']);
});
