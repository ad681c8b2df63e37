import { describe, expect, test } from 'vitest';
import { batchOf } from '../testing/batch-of.ts';
import { closeMinute, newDriftState } from './drift.ts';
import { addToProfile, newProfile } from './profile.ts';

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

  test('nothing is said while all stays as it was', () => {
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

  test('one that goes on is reported once; one that came back and went again, again', () => {
    const without = Array.from({ length: 6 }, () => many({ level: 'info', pier: 4 }));
    const back = Array.from({ length: 40 }, () => many({ level: 'info', pier: 4, ref: 'x' }));
    const kinds = run([...usual, ...without, ...back, ...without]).map(({ kind, subject }) => `${kind} ${subject}`);
    expect(kinds).toEqual(['field-vanished ref', 'field-vanished ref']);
  });

  test('minutes of few events are put together; silent ones tell nothing', () => {
    const few = Array.from({ length: 20 }, () => many({ level: 'info', pier: 4 }, 2));
    const drifts = run([...usual, [], ...few]);
    expect(drifts.map(({ kind, subject }) => [kind, subject])).toEqual([['field-vanished', 'ref']]);
    // It began with the first minute in which the field was missing.
    expect(drifts[0]?.since).toBe(13 * minute);
  });

  test('too little is known of a source that has just begun', () => {
    expect(run([many({ level: 'info' }), many({ level: 'error', lane: 1 })])).toEqual([]);
  });
});
