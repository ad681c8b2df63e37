import type { RankingAnswer } from '../answers/rankings.ts';
import { writeCsv } from '../tables/csv.ts';

/**
 * A ranking as CSV (RFC 4180): place, the values of its keys, the amount (at least and at most), its share, since when it is
 * in the ranking (ISO 8601), and a column for each step, named by its start. A field that an event lacks is an empty cell.
 */
export function talkersCsv({ by, talkers, missed, from, every, totals }: RankingAnswer): string {
  const steps = totals.map((_, step) => new Date(from + step * every).toISOString());
  return writeCsv(
    ['place', ...by, 'at least', 'at most', 'share', 'since', ...steps],
    talkers.map(({ labels, amount, share, since, values }, i) => [
      String(i + 1),
      ...labels.map((value) => value ?? ''),
      ...[amount, amount + missed, share].map(String),
      since === null ? '' : new Date(since).toISOString(),
      ...values.map(String),
    ]),
  );
}
