import { describe, expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { arrivalsOf } from './arrivals.ts';
import { closeMinute, newDriftState } from './drift.ts';
import { observe } from './observe.ts';
import { packRhythm, unpackRhythm } from './pack-rhythm.ts';
import { addToProfile, newProfile } from './profile.ts';
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

describe('drift', () => {
  const minute = 60_000;
  function run(minutes: readonly (readonly object[])[]) {
    const state = newDriftState();
    return minutes.flatMap((events, i) => {
      const profile = newProfile();
      addToProfile(profile, batchOf(events));
      return closeMinute(state, i * minute, profile);
    });
  }
  const many = (event: object, count = 40) => Array.from({ length: count }, () => event);
  const usual = Array.from({ length: 12 }, () => many({ level: 'info', pier: 4, ref: 'x' }));

  test('nothing is told while all stays as it was', () => {
    expect(run([...usual, ...usual])).toEqual([]);
  });

  test('a field that vanished, one that appeared, one of another type, and a moved severity mix, each once with its minute', () => {
    const changed = Array.from({ length: 3 }, () => many({ level: 'error', pier: 'four', lane: 1 }));
    const drifts = run([...usual, ...changed]);
    expect(drifts.map(({ kind, subject, since }) => [kind, subject, since / minute]).sort()).toEqual([
      ['field-appeared', 'lane', 12],
      ['field-vanished', 'ref', 12],
      ['severity-moved', 'error', 12],
      ['type-changed', 'pier', 12],
    ]);
    expect(drifts.find(({ kind }) => kind === 'field-vanished')).toMatchObject({
      text: 'the field ref vanished; all of the events had it',
      shows: 'not has ref',
    });
  });

  test('a few odd events are no change', () => {
    expect(run([...usual, [...many({ level: 'info', pier: 4, ref: 'x' }), { level: 'error', odd: 1 }]])).toEqual([]);
  });
});
