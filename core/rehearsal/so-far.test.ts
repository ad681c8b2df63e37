import { expect, test } from 'vitest';
import { rehearsedSoFar } from './so-far.ts';
import { excluded, kept, transitionOf, transitionsOf } from './testing/transitions.ts';
import type { Place } from './transitions.ts';

test('each source is extrapolated by the share that was read', () => {
  // Of 100 events of the gates the live plan parses 80 and keeps all, the draft parses all and excludes 50.
  const unparsed: Place = ['kept', 'rest', '', false];
  const transitions = transitionsOf([
    { ...transitionOf({ bytes: 500, live: kept, draft: excluded }), events: 50 },
    { ...transitionOf({ bytes: 300, live: kept, draft: kept }), events: 30 },
    { ...transitionOf({ bytes: 200, live: unparsed, draft: kept }), events: 20 },
    { ...transitionOf({ source: 'tides', bytes: 100 }), events: 10 },
  ]);
  const rehearsal = { transitions };
  const shareRead = (source: string): number => (source === 'tides' ? 0.1 : 1);
  const found = rehearsedSoFar(rehearsal, shareRead, { done: 3, all: 12 });
  expect(found.kept).toEqual({ live: 2_000, draft: 1_500 });
  expect(found.parsed.live).toBeCloseTo(0.9);
  expect(found.parsed.draft).toBe(1);
  expect(rehearsedSoFar(rehearsal, () => 0, { done: 0, all: 12 }).kept).toEqual({ live: 0, draft: 0 });
});
