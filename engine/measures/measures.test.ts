import { expect, test } from 'vitest';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import type { ProcessResult } from '../workers/process.ts';
import { Measures } from './measures.ts';

function committed(entries: readonly Partial<LedgerEntry>[]): ProcessResult {
  const ledger = entries.map((entry) => ({
    start: Date.now(),
    source: 'gates',
    outcome: 'kept' as const,
    tier: 'rest',
    rule: '',
    parsed: true,
    events: 60,
    bytes: 6_000,
    stored: 0,
    ...entry,
  }));
  return { answers: [], times: [], effects: { ledger } };
}

test('OpenMetrics text has a type and a help for each measure, and an end', async () => {
  const measures = new Measures();
  measures.committed(committed([{}]), 500, 250);
  measures.failedRound('merging');
  const spool = { follower: 'archive', stored: 77, droppedEvents: 3 };
  const lines = (await measures.openMetrics({ queued: 1_234, free: 5e9, spools: [spool] })).split('\n');
  expect(lines).toContain('otter_received_events_total 60');
  expect(lines).toContain('otter_process_seconds_total 0.5');
  expect(lines).toContain('otter_queued_bytes 1234');
  expect(lines).toContain('otter_disk_free_bytes 5000000000');
  expect(lines).toContain('otter_spooled_bytes{follower="archive"} 77');
  expect(lines).toContain('otter_spool_dropped_events_total{follower="archive"} 3');
  expect(lines).toContain('otter_failed_rounds_total{round="merging"} 1');
  expect(lines.filter((line) => line !== '').at(-1)).toBe('# EOF');
  const names = lines.filter((line) => line.startsWith('# TYPE')).map((line) => line.split(' ')[2] ?? '');
  expect(new Set(names).size).toBe(names.length);
  for (const name of names) {
    expect(lines.some((line) => line.startsWith(`# HELP ${name} `))).toBe(true);
    expect(lines.some((line) => new RegExp(`^${name}(_total)?({.*})? \\d`).test(line))).toBe(true);
  }
});
