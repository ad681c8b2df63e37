import { deflateRawSync, inflateRawSync } from 'node:zlib';
import { encode } from '#core/events/text-table.ts';
import { readRecords } from '#core/formats/read.ts';
import { splitLines } from '#core/formats/records.ts';
import { addFound, newFound, rowsFound } from '#core/search/search.ts';
import { decodeSegment, encodeSegment } from '#core/segments/segment.ts';
import { queryOf } from '../query.ts';

/** Enough rows and rounds for the compiler to take the loops of a search for hot. */
const rows = 16_384;
const rounds = 24;

const questions: readonly (readonly [condition: string, summary: string])[] = [
  ['source = warm number >= 98 kind = k1*', 'count()'],
  ['source = warm number >= 20 kind = k1*', 'count()'],
  ['source = warm', 'p95(number) by kind, site'],
  ['source = warm "step 4"', 'count() by kind every 1m'],
];

/** Runs searches over made-up events, so that the first search that someone waits for finds the code compiled. */
export function warmUp(): void {
  const lines = Array.from(
    { length: rows },
    (_, i) => `{"msg":"step ${i % 50} of ${i}","number":${i % 100},"kind":"k${i % 20}","site":"s${i % 3}"}`,
  );
  const context = { received: 0, backfill: false };
  const { batch } = readRecords('warm', splitLines(encode(lines.join('\n'))), 'json', context);
  const parts = encodeSegment(batch, 'columns').parts.map(({ data }) => deflateRawSync(data, { level: 1 }));
  for (let round = 0; round < rounds; round++) {
    const opened = decodeSegment(
      'warm',
      rows,
      parts.map((part) => inflateRawSync(part)),
    );
    for (const [condition, summary] of questions) {
      const query = queryOf({ condition, summary, from: 0, to: 1, limit: 0, buckets: 0, fields: false });
      const found = rowsFound(query, opened, { tier: 'rest', now: 0 }, { inside: round % 2 === 0, holds: false });
      addFound(newFound(query), query, opened, found, 'rest');
    }
  }
}
