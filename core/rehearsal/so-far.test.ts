import { expect, test } from 'vitest';
import { newRehearsal } from './rehearse.ts';
import { rehearsedSoFar } from './so-far.ts';

test('each source is extrapolated by the share that was read', () => {
  const rehearsal = newRehearsal();
  const volume = (events: number) => ({ events, bytes: events * 10 });
  rehearsal.live.sources.set('gates', { arrived: volume(100), parsed: volume(80), kept: volume(100) });
  rehearsal.live.sources.set('tides', { arrived: volume(10), parsed: volume(10), kept: volume(10) });
  rehearsal.draft.sources.set('gates', { arrived: volume(100), parsed: volume(100), kept: volume(50) });
  rehearsal.draft.sources.set('tides', { arrived: volume(10), parsed: volume(10), kept: volume(10) });
  const shareRead = (source: string): number => (source === 'tides' ? 0.1 : 1);
  const found = rehearsedSoFar(rehearsal, shareRead, { done: 3, all: 12 });
  expect(found.kept).toEqual({ live: 2_000, draft: 1_500 });
  expect(found.parsed.live).toBeCloseTo(0.9);
  expect(found.parsed.draft).toBe(1);
  expect(rehearsedSoFar(rehearsal, () => 0, { done: 0, all: 12 }).kept).toEqual({ live: 0, draft: 0 });
});
