import type { CostsAnswer } from '../answers/costs.ts';
import { dayOf, textOfDay } from '../costs/month/calendar.ts';
import { writeCsv } from '../tables/csv.ts';

/**
 * Costs as CSV (RFC 4180) with a first line of names: the keys as they were asked for, a line where a shape is one of them, the
 * parts and the whole, and each step by the day on which it begins. The rest goes under that name. Amounts are in the currency, with all digits of its coins.
 */
export function costsCsv({ currency, rows, steps }: CostsAnswer, by: readonly string[]): string {
  const hasLines = by.includes('shape');
  const digits = currency?.digits ?? 0;
  const amount = (coins: number): string => (coins / 10 ** digits).toFixed(digits);
  return writeCsv(
    [
      ...by,
      ...(hasLines ? ['line'] : []),
      ...['received', 'kept', 'stored', 'series', 'whole'],
      ...steps.map((time) => textOfDay(dayOf(time))),
    ],
    rows.map(({ keys, line, received, kept, stored, series, whole, steps: coins }) => [
      ...(keys.length > 0 ? keys : by.map((_, i) => (i === 0 ? 'the rest' : ''))),
      ...(hasLines ? [line] : []),
      ...[received, kept, stored, series, whole].map(amount),
      ...coins.map(amount),
    ]),
  );
}
