import { expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { observe } from './observe.ts';
import { packHeard, unpackHeard } from './pack-heard.ts';
import { addToProfile, newProfile } from './profile.ts';

const at = Date.UTC(2026, 10, 24, 9);

test('what was heard comes back as it was, in few bytes', () => {
  const batch = batchOf(
    Array.from({ length: 200 }, (_, i) => ({ host: `gate-${i % 50}`, site: 'pier-4', msg: 'scan' })),
    'gates',
  );
  const arrived = { ...batch, received: Float64Array.from({ length: 200 }, (_, i) => at + i * 400) };
  const timed = { ...arrived, time: arrived.received.map((time) => time - 12) };
  const profile = newProfile();
  addToProfile(profile, timed);
  const heard = [
    { source: 'gates', backfill: false, list: observe(timed, true), profile },
    { source: 'tides', backfill: true, list: [] },
  ];
  const packed = packHeard(heard);
  expect(unpackHeard(packed)).toEqual(heard);
  const emitters = heard[0]?.list.length ?? 0;
  expect(packed.length / emitters).toBeLessThan(80);
  expect(unpackHeard(packHeard([]))).toEqual([]);
});
