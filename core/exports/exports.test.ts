import { expect, test } from 'vitest';
import type { StoredEvent } from '../search/found-event.ts';
import { parseTable } from '../tables/table.ts';
import { exportFormats } from './index.ts';

const event: StoredEvent = {
  time: Date.UTC(2026, 10, 24, 8, 15, 0, 250),
  received: Date.UTC(2026, 10, 24, 8, 15, 1),
  severity: 17,
  weight: 1,
  size: 210,
  source: 'gates',
  emitter: 'gate-p1-01',
  body: 'lane "north", shut\nafter a storm',
  attributes: { lane: 'north', wait: -5, open: false, note: '=cmd()' },
  tier: 'incidents',
  units: {},
};
const bare: StoredEvent = { ...event, size: 0, emitter: '', body: '', weight: 10, attributes: { wait: 0.5 } };
const fields = ['lane', 'wait', 'open', 'note'];

function written(name: string, events: readonly StoredEvent[]): string {
  const format = exportFormats.get(name);
  return (format?.head(fields) ?? '') + (format?.events(events, fields) ?? '');
}

test('NDJSON: each line is the event', () => {
  const lines = written('ndjson', [event, bare]).trimEnd().split('\n');
  expect(lines.map((line) => JSON.parse(line))).toEqual([
    {
      time: '2026-11-24T08:15:00.250Z',
      received: '2026-11-24T08:15:01.000Z',
      source: 'gates',
      emitter: 'gate-p1-01',
      tier: 'incidents',
      severity: 17,
      raw_bytes: 210,
      body: event.body,
      attributes: event.attributes,
    },
    expect.objectContaining({ weight: 10, attributes: { wait: 0.5 } }),
  ]);
});

test('CSV: a column for each field, texts in quotes, no formulas', () => {
  const text = written('csv', [event, bare]);
  expect(text.split('\r\n').at(0)).toBe(
    'time,received,source,emitter,tier,severity,weight,raw_bytes,body,lane,wait,open,note',
  );
  expect(text).toContain('"lane ""north"", shut\nafter a storm",north,-5,false,\'=cmd()');
  const table = parseTable(text);
  expect(table.ok).toBe(true);
  expect(text.split('\r\n').at(2)).toBe(
    '2026-11-24T08:15:00.250Z,2026-11-24T08:15:01.000Z,gates,,incidents,error,10,,,,0.5,,',
  );
});

test.each([...exportFormats.keys()])('%s: nothing is written for no events', (name) => {
  expect(exportFormats.get(name)?.events([], fields)).toBe('');
});
