import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { arrivalsOf } from './arrivals.ts';
import { observe } from './observe.ts';
import { packRhythm, unpackRhythm } from './pack-rhythm.ts';
import { learn, newRhythm } from './rhythm.ts';

describe('what a batch tells', () => {
  test('of the source and of each emitter: events, lateness, sequence, and what it always says', () => {
    const at = (seconds: number) => new Date(arrival - seconds * 1000).toISOString();
    const batch = batchOf([
      { host: 'a', time: at(2), pier: '4', lane: '1', 'meta.sequenceId': 1 },
      { host: 'a', time: at(4), pier: '4', lane: '2', 'meta.sequenceId': 2 },
      { host: 'a', time: at(6), pier: '4', lane: '1', 'meta.sequenceId': 6 },
      { host: 'b', time: at(0), pier: '5', 'meta.sequenceId': 9 },
      { host: 'b', time: at(0), pier: '5', 'meta.sequenceId': 9 },
      { pier: '6' },
    ]);
    const [whole, a, b] = observe(batch, true);
    expect(whole).toMatchObject({ emitter: '', arrivals: { events: 6 } });
    expect(a).toMatchObject({
      emitter: 'a',
      latenessLeast: 2000,
      latenessMost: 6000,
      gaps: 3,
      duplicates: 0,
      lastNumber: 6,
    });
    expect(a?.traits).toEqual([['pier', '4']]);
    expect(b).toMatchObject({ emitter: 'b', gaps: 0, duplicates: 1 });
    expect(observe(batch, false)[1]?.traits).toEqual([]);
  });

  test('arrivals keep the ends of long gaps and count short ones', () => {
    const { events, spans, gaps } = arrivalsOf([0, 1_000, 2_000, 60_000, 61_000]);
    expect(events).toBe(5);
    expect(spans).toEqual([
      [0, 2_000],
      [60_000, 61_000],
    ]);
    expect(gaps).toEqual([[39, 3, 1_000, 3_000]]);
  });

  test('a rhythm survives being packed', () => {
    const rhythm = newRhythm(arrival);
    for (let i = 0; i < 50; i++) learn(rhythm, arrivalsOf([arrival + i * 40_000]));
    expect(unpackRhythm(JSON.parse(JSON.stringify(packRhythm(rhythm))))).toEqual(rhythm);
  });
});
