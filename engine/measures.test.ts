import { afterEach, beforeEach, describe, expect, test, vi } from 'vitest';
import type { LedgerEntry } from '#core/routing/ledger.ts';
import { Measures } from './measures.ts';
import type { ProcessResult } from './workers/process.ts';

const start = Date.UTC(2026, 10, 24, 9);

beforeEach(() => vi.useFakeTimers({ now: start, toFake: ['Date'] }));
afterEach(() => vi.useRealTimers());

function committed(entries: readonly Partial<LedgerEntry>[], steps: ProcessResult['steps'] = new Map()): ProcessResult {
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
  return { answers: [], segments: [], ledger, tape: [], observed: [], steps };
}

describe('rates', () => {
  test('are over the last minute', () => {
    const measures = new Measures();
    measures.committed(1, committed([{}]), 1, 1);
    vi.setSystemTime(start + 30_000);
    measures.committed(1, committed([{ events: 120 }, { source: 'tides' }]), 1, 1);
    const rate = (source: string) => measures.rates(Date.now()).find((each) => each.source === source)?.events;
    expect([rate('gates'), rate('tides')]).toEqual([3, 1]);
    vi.setSystemTime(start + 70_000);
    expect([rate('gates'), rate('tides')]).toEqual([2, 1]);
    vi.setSystemTime(start + 200_000);
    expect([rate('gates'), rate('tides')]).toEqual([0, 0]);
    expect(measures.rates(Date.now())[0]?.last).toBe(start + 30_000);
  });

  test('leave history out that is being brought in', () => {
    const measures = new Measures();
    measures.committed(1, committed([{ start: start - 86_400_000 }]), 1, 1);
    expect(measures.rates(Date.now())).toEqual([]);
    expect([measures.received, measures.receivedBytes]).toEqual([60, 6_000]);
    expect(measures.effect).toBeUndefined();
  });
});

describe('the effect of a revision', () => {
  test('counts what arrived, what was kept of it and what was parsed', () => {
    const measures = new Measures();
    measures.committed(3, committed([{}, { outcome: 'excluded' }, { parsed: false }]), 1, 1);
    expect(measures.effect).toEqual({
      revision: 3,
      since: start,
      arrived: { events: 180, bytes: 18_000 },
      kept: { events: 120, bytes: 12_000 },
      parsed: { events: 120, bytes: 12_000 },
    });
  });

  test('begins anew with the next revision; groups of the old one that come late do not count', () => {
    const measures = new Measures();
    measures.committed(3, committed([{}]), 1, 1);
    vi.setSystemTime(start + 1_000);
    measures.committed(4, committed([{}]), 1, 1);
    measures.committed(3, committed([{}]), 1, 1);
    expect(measures.effect).toMatchObject({ revision: 4, since: start + 1_000, arrived: { events: 60 } });
  });
});

test('steps add up within a revision', () => {
  const step = { events: 10, failed: 1, timedEvents: 10, milliseconds: 2, weighedEvents: 5, weighedGrowth: -50 };
  const measures = new Measures();
  expect(measures.steps).toBeUndefined();
  measures.committed(1, committed([], new Map([['p/1', { ...step }]])), 1, 1);
  measures.committed(1, committed([], new Map([['p/1', { ...step }]])), 1, 1);
  expect(measures.steps?.steps['p/1']).toMatchObject({ events: 20, failed: 2, weighedGrowth: -100 });
  measures.committed(2, committed([], new Map([['p/1', { ...step }]])), 1, 1);
  expect(measures.steps).toMatchObject({ revision: 2, steps: { 'p/1': { events: 10 } } });
});

test('OpenMetrics text has a type and a help for each measure, and an end', () => {
  const measures = new Measures();
  measures.committed(1, committed([{}]), 500, 250);
  const lines = measures.openMetrics(1_234).split('\n');
  expect(lines).toContain('otter_received_events_total 60');
  expect(lines).toContain('otter_process_seconds_total 0.5');
  expect(lines).toContain('otter_queued_bytes 1234');
  expect(lines.slice(-2)).toEqual(['# EOF', '']);
  const names = lines.filter((line) => line.startsWith('# TYPE')).map((line) => line.split(' ')[2] ?? '');
  expect(new Set(names).size).toBe(names.length);
  for (const name of names) {
    expect(lines.some((line) => line.startsWith(`# HELP ${name} `))).toBe(true);
    expect(lines.some((line) => new RegExp(`^${name}(_total)? \\d`).test(line))).toBe(true);
  }
});
