import { expect, test } from 'vitest';
import { day, hour } from '../events/time-units.ts';
import { causesOf } from './causes.ts';
import { comparedEvents } from './compared-events.ts';
import { type LedgerVolume, ledgerParts } from './ledger-parts.ts';
import { measureOf } from './measure.ts';

const now = Date.UTC(2026, 11, 2, 12);
const since = { from: now - 5 * hour, to: now };
const before = [1, 2, 3].map((days) => ({ from: since.from - days * day, to: since.to - days * day }));
const times = { since, before };

function volume(start: number, of: Partial<LedgerVolume>): LedgerVolume {
  const volume = { events: 100, bytes: 20_000, severity: 3, shape: 'request', outcome: 'kept', tier: 'rest' };
  return { source: 'shop', ...volume, start, ...of };
}

/** Hours of a period; `more` times as much of one shape that is excluded. */
function hoursOf({ from, to }: { readonly from: number; readonly to: number }, more = 1): readonly LedgerVolume[] {
  const starts = Array.from({ length: (to - from) / hour }, (_, i) => from + i * hour);
  return starts.flatMap((start, i) => [
    volume(start, { events: 100 + i }),
    volume(start, { source: 'pay', severity: 5, events: 90 - i }),
    volume(start, { shape: 'retry', outcome: 'excluded', events: 40 * more, bytes: 4_000 * more }),
  ]);
}

test.each([
  ['received events', 5 * 40 * 9],
  ['received bytes', 5 * 4_000 * 9],
])('explains %s by what grew, excluded or not', (text, growth) => {
  const periods = [hoursOf(since, 10), ...before.map((period) => hoursOf(period))];
  const { parts, measure } = ledgerParts(periods, times, { measure: measureOf(text), now });
  const { verdict, causes, since: met, before: usual } = causesOf(comparedEvents(parts, measure), measure, true);
  expect(verdict).toBe('values');
  expect(causes).toHaveLength(1);
  const where = Object.fromEntries(causes[0]?.where.map(({ field, value }) => [field, value]) ?? []);
  // Only the excluded lines have this shape and this tier.
  expect(['retry', undefined]).toContain(where.shape);
  expect(['passing', undefined]).toContain(where.tier);
  expect(met - usual).toBeCloseTo(growth, 3);
  expect(causes[0]?.share).toBeCloseTo(1, 6);
});

test('a share follows from the severities of the ledger', () => {
  const failing = hoursOf(since).map((one) => (one.source === 'pay' ? { ...one, events: one.events * 8 } : one));
  const periods = [failing, ...before.map((period) => hoursOf(period))];
  const given = measureOf('share of severity >= error');
  const { parts, measure } = ledgerParts(periods, times, { measure: given, now });
  const { verdict, causes, since: met } = causesOf(comparedEvents(parts, measure), measure, true);
  expect(verdict).toBe('values');
  expect(causes[0]?.where).toContainEqual({ field: 'source', value: 'pay' });
  const errors = 8 * (90 * 5 - 10);
  expect(met).toBeCloseTo(errors / (errors + 510 + 200), 6);
});

test('chance is that of single events: few events say nothing, many do', () => {
  const chanceOf = (events: number, more: number) => {
    const of = (period: { readonly from: number }, count: number): readonly LedgerVolume[] => [
      volume(period.from, { events: count }),
      volume(period.from, { source: 'pay', events }),
    ];
    const two = { since, before: before.slice(0, 1) };
    const given = { measure: measureOf('events'), now };
    const { parts, measure } = ledgerParts([of(since, events * more), of(two.before[0] ?? since, events)], two, given);
    return causesOf(comparedEvents(parts, measure), measure, true).verdict;
  };
  expect(chanceOf(20, 1.4)).toBe('usual');
  expect(chanceOf(2_000, 1.4)).toBe('values');
});
