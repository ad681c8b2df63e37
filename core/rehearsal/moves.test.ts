import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { DaySeries } from '../costs/day-series.ts';
import { bandsOf } from './bands.ts';
import { type Move, movesOf, withoutShapes } from './moves.ts';
import { mostDays, recentDays } from './recent-days.ts';
import { excluded, kept, transitionOf, transitionsOf } from './testing/transitions.ts';

const today = 20_000;
/** What a ledger has of a source and shape on the days before today, the last one given last. */
function days(source: string, shape: string, bytes: readonly number[]): DaySeries {
  const values = Float64Array.from(bytes);
  return {
    ...{ source, shape, tier: 'rest', outcome: 'kept', severity: -1, from: today - bytes.length },
    ...{ events: values, bytes: values, stored: values },
  };
}
const sum = (moves: readonly Move[]): number => moves.reduce((all, { bytes }) => all + bytes, 0);
const isExcluded = ({ draft }: Move): boolean => draft[0] === 'excluded';

test('the shares of each shape are those of the window, how much comes of it is told by the days', () => {
  const recent = recentDays([days('gates', 'open', [100, 300]), days('gates', 'fault', [40, 0])], today);
  expect(recent.count).toBe(2);
  const transitions = transitionsOf([
    transitionOf({ shape: 'open', bytes: 3 }),
    transitionOf({ shape: 'open', bytes: 1, draft: excluded }),
    transitionOf({ shape: 'fault', bytes: 9 }),
  ]);
  const moves = movesOf(transitions, recent, 2);
  expect(sum(moves)).toBe(220);
  expect(sum(moves.filter(isExcluded))).toBe(200 / 4);
  // A day of the tape is the volume of that day.
  expect(sum(movesOf(transitions, recent))).toBe(13);
  // Days are told as if both plans had been rehearsed on each.
  expect(moves.find(isExcluded)?.days).toEqual([25, 75]);
});

test('what the window did not have of a source fares as the rest of the source', () => {
  const recent = recentDays([days('gates', 'open', [100]), days('gates', 'gone', [60])], today);
  const transitions = transitionsOf([
    transitionOf({ shape: 'open', bytes: 3 }),
    transitionOf({ shape: 'open', bytes: 1, draft: excluded }),
  ]);
  const moves = movesOf(transitions, recent, 7);
  expect(sum(moves)).toBe(160);
  expect(sum(moves.filter(isExcluded))).toBe(40);
});

test('a source that is younger than the span counts from its first day on, and what is new today as the window has it', () => {
  const recent = recentDays([days('tides', '', new Array(14).fill(10)), days('gates', 'open', [80, 100])], today);
  const transitions = transitionsOf([
    transitionOf({ shape: 'open', bytes: 5 }),
    transitionOf({ source: 'tides', bytes: 2 }),
    transitionOf({ source: 'cranes', bytes: 33 }),
  ]);
  const moves = movesOf(transitions, recent, 7);
  const of = (source: string): number => sum(moves.filter((move) => move.source === source));
  expect([of('gates'), of('tides'), of('cranes')]).toEqual([90, 10, 33]);
});

test('only days that are over count, the last fourteen of them', () => {
  const recent = recentDays(
    [
      days(
        'gates',
        'open',
        Array.from({ length: 20 }, (_, i) => i + 1),
      ),
    ],
    today,
  );
  expect(recent.count).toBe(mostDays);
  expect(recent.sources.get('gates')?.all.bytes[0]).toBe(7);
  const ahead = { ...days('gates', 'open', [5, 6]), from: today - 1 };
  expect(recentDays([ahead], today).sources.get('gates')?.all.bytes).toEqual(Float64Array.of(5));
  expect(recentDays([], today)).toEqual({ count: 0, sources: new Map() });
});

test('whatever comes, moves are all of it, and what one slot has too much of a shape others have too little of', () => {
  const amounts = fc.array(fc.nat(5_000), { minLength: 24, maxLength: 24 });
  const any = fc.array(
    fc.record({
      source: fc.constantFrom('gates', 'tides'),
      shape: fc.constantFrom('', 'open', 'fault'),
      draft: fc.constantFrom(kept, excluded),
      slots: amounts,
    }),
    { minLength: 1, maxLength: 12 },
  );
  fc.assert(
    fc.property(
      any,
      fc.integer({ min: 0, max: 14 }),
      fc.array(fc.nat(9_000), { maxLength: 16 }),
      (list, span, came) => {
        const transitions = transitionsOf(
          list.map(({ slots, ...kind }) => transitionOf({ ...kind, bytes: slots.reduce((a, b) => a + b, 0) }, slots)),
        );
        const recent = recentDays([days('gates', 'open', came)], today);
        const moves = movesOf(transitions, recent, span);
        const merged = withoutShapes(moves);
        expect(sum(merged)).toBeCloseTo(sum(moves), 3);
        for (const move of moves) {
          expect(move.bytes).toBeGreaterThanOrEqual(0);
          expect(Math.abs(move.residuals.reduce((a, b) => a + b, 0))).toBeLessThanOrEqual(24);
        }
        const tides = [...transitions.values()].filter(({ source }) => source === 'tides');
        expect(sum(moves.filter(({ source }) => source === 'tides'))).toBeCloseTo(
          tides.reduce((all, { bytes }) => all + bytes, 0),
          3,
        );
        // What goes nowhere else is sure: of a shape that is all kept no share can be off.
        const { change } = bandsOf(
          merged,
          () => 1,
          () => 1,
          0,
        );
        expect(change).toBe(0);
      },
    ),
  );
});
