import { expect, test } from 'vitest';
import { unit } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import { eventPriceOf, eventPrices } from './event-prices.ts';

const prices: VolumePrices = {
  currency: { sign: 'cr', digits: 2 },
  costOf: ({ source, tier, events, bytes }) => ({
    received: (BigInt(bytes) * unit) / 1_000_000n,
    kept: tier === 'long' ? (BigInt(events) * unit) / 1_000n : 0n,
    stored: source === 'gates' ? (BigInt(bytes) * unit) / 2_000_000n : 0n,
    series: 0n,
  }),
};

test('prices an event by its source and tier', () => {
  const found = eventPrices(
    [
      { source: 'gates', tier: 'long' },
      { source: 'tides', tier: 'rest' },
      { source: 'gates', tier: 'long' },
    ],
    prices,
  );
  expect(found.size).toBe(2);
  const gates = eventPriceOf(found, { source: 'gates', tier: 'long' });
  const tides = eventPriceOf(found, { source: 'tides', tier: 'rest' });
  expect(gates.perByte / tides.perByte).toBeCloseTo(1.5, 9);
  expect(gates.perEvent).toBeGreaterThan(0);
  expect(tides.perEvent).toBe(0);
});

test('an unknown source or tier is free', () => {
  expect(eventPriceOf(undefined, { source: 'gates', tier: 'long' })).toEqual({ perEvent: 0, perByte: 0 });
});
