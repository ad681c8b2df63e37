import { expect, test } from 'vitest';
import { day, minute } from '../events/time-units.ts';
import { comparedStretch, revisionEffect, wholeMinutes } from './revision-effect.ts';

const volume = (events: number) => ({ events, bytes: events * 10 });
const sum = (source: string, outcome: string, parsed: boolean, events: number) => ({
  ...{ start: 0, source, outcome, parsed, stored: 0 },
  ...volume(events),
});

/** A rehearsal of a plan that excludes three quarters of what `noisy` sends, which is nine tenths of a day’s volume. */
const prediction = {
  sources: [
    { id: 'noisy', liveParsed: 0.5, draftParsed: 1 },
    { id: 'quiet', liveParsed: 1, draftParsed: 1 },
  ],
  flows: [
    { place: ['noisy', 'kept', 'rest', ''] as const, live: volume(900), draft: volume(225) },
    { place: ['noisy', 'excluded', 'rest', ''] as const, live: volume(0), draft: volume(675) },
    { place: ['quiet', 'kept', 'rest', ''] as const, live: volume(100), draft: volume(100) },
  ],
};
const stretch = { from: 0, to: 10 * minute };

test('a stretch is whole minutes, and seven days at most', () => {
  expect(wholeMinutes(30_000, 3.5 * minute)).toEqual({ from: minute, to: 3 * minute });
  expect(wholeMinutes(30_000, 90_000)).toBeUndefined();
  expect(comparedStretch(0, 30 * day)).toEqual({ from: 0, to: 7 * day });
  expect(comparedStretch(0, 2 * minute)).toEqual({ from: 0, to: 2 * minute });
});

test('prediction and measurement are of the same events, however the mix of sources is in these minutes', () => {
  // It is an hour in which the noisy source rests: of a day three tenths would be kept.
  const came = [
    sum('noisy', 'kept', true, 10),
    sum('noisy', 'excluded', true, 30),
    sum('quiet', 'kept', true, 50),
    sum('quiet', 'kept', false, 10),
  ];
  expect(revisionEffect(prediction, came, stretch)).toEqual({
    ...stretch,
    arrived: volume(100),
    kept: { before: 1_000, predicted: 700, measured: 700 },
    parsed: { before: 80, predicted: 100, measured: 90 },
    newSources: [],
  });
});

test('sources that the rehearsal did not have are left out and named; nothing that arrived is nothing', () => {
  const flood = sum('swell', 'dropped', false, 100_000);
  const effect = revisionEffect(prediction, [sum('quiet', 'kept', true, 10), flood], stretch);
  expect(effect).toMatchObject({ arrived: volume(10), newSources: ['swell'] });
  expect(effect.kept).toEqual({ before: 100, predicted: 100, measured: 100 });
  expect(revisionEffect(prediction, [], stretch).arrived).toEqual(volume(0));
});
