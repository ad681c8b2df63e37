import { expect, test } from 'vitest';
import { hour } from '../events/time-units.ts';
import { sourceViews, typicalAt } from './sources.ts';

const now = Date.UTC(2026, 10, 24, 9, 30);
const start = Date.UTC(2026, 10, 24, 9);
const sum = (at: number, events: number, parsed = true) => ({
  source: 'gates',
  start: at,
  events,
  bytes: 0,
  stored: 0,
  parsed,
});

test('typical is the same hour a week ago, or those of the other days', () => {
  expect(typicalAt([sum(start - 168 * hour, 7_200), sum(start - 24 * hour, 1)], now)).toBe(2);
  expect(typicalAt([sum(start - 24 * hour, 3_600), sum(start - 48 * hour, 7_200)], now)).toBe(1.5);
  expect(typicalAt([sum(start - 5 * hour, 3_600)], now)).toBeNull();
});

test('a source that nobody was heard of shows what the ledger knows', () => {
  const source = {
    ...{ name: 'gates', kind: 'http', format: 'auto', owner: '', labels: {}, accepts: '', settings: {}, createdAt: 0 },
  };
  const [view] = sourceViews({
    sources: [source],
    hours: [sum(start - hour, 30), sum(start - hour, 10, false), { ...sum(start - hour, 99), source: 'tides' }],
    weekly: [],
    seen: new Map([['gates', { first: 5, last: 9 }]]),
    followed: [],
    now,
  });
  expect(view).toMatchObject({ day: { events: 40 }, parsedShare: 0.75, firstSeen: 5, lastSeen: 9, health: null });
  expect(view?.spark.slice(-1)).toEqual([40]);
  expect(view?.spark).toHaveLength(23);
});
