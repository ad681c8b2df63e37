import { describe, expect, test } from 'vitest';
import { conditionOf } from '../conditions/condition.ts';
import { day, hour } from '../events/time-units.ts';
import { isAboutCounts, type ShapeFacts, type ShapeSumView, shapesView, sumsWith } from './shapes.ts';

const to = Date.UTC(2026, 10, 24);
const window = { from: to - 3 * day, to, every: 3 * hour };
const slices = 24;

const sum = (shape: string, slice: number, bytes: number, more: Partial<ShapeSumView> = {}): ShapeSumView => ({
  start: window.from + slice * window.every,
  ...{ shape, source: 'gates', tier: 'rest', outcome: 'kept', severity: 3, events: bytes / 100, bytes },
  ...more,
});

const steadily = (shape: string, bytesOf: (slice: number) => number): readonly ShapeSumView[] =>
  Array.from({ length: slices }, (_, slice) => sum(shape, slice, bytesOf(slice))).filter(({ bytes }) => bytes > 0);

const facts = (id: string): ShapeFacts | undefined =>
  id === 'unknown'
    ? undefined
    : { id: id === 'old' ? 'a' : id, skeleton: ['up', ' ', 'now'], sample: 'up now', wanted: false };

const seen = new Map([
  ['a', { first: to - 30 * day, last: to }],
  ['fresh', { first: to - 4 * hour, last: to }],
]);

function changeOf(bytesOf: (slice: number) => number, shape = 'a') {
  const view = shapesView(steadily(shape, bytesOf), window, { facts, seen, isCounted: true }).shapes[0];
  return [view?.change, view?.growth && Math.round(view.growth.times)];
}

describe('shapes in a window', () => {
  test('are ranked by bytes; ids that were merged count for what they are now; all adds up', () => {
    const sums = [
      sum('b', 0, 500),
      sum('old', 1, 300),
      sum('a', 2, 400),
      sum('unknown', 2, 50, { outcome: 'excluded' }),
    ];
    const view = shapesView(sums, window, { facts, seen, isCounted: true });
    expect(view.shapes.map(({ id, bytes }) => [id, bytes])).toEqual([
      ['a', 700],
      ['b', 500],
      ['unknown', 50],
    ]);
    expect(view.total).toEqual({ events: 12.5, bytes: 1_250, coins: 0 });
    expect(view.shapes[0]?.trend.reduce((all, bytes) => all + bytes)).toBe(700);
    expect(view.shapes[2]?.fates).toEqual([{ outcome: 'excluded', tier: 'rest', events: 0.5, bytes: 50, saves: 0 }]);
    expect(view.shapes[1]?.severity).toBe('info');
  });

  test('beyond 300 are reported together', () => {
    const view = shapesView(
      Array.from({ length: 320 }, (_, i) => sum(`s${i}`, 0, 1_000 - i)),
      window,
      { facts, seen, isCounted: true },
    );
    expect(view.shapes).toHaveLength(300);
    expect(view.rest).toMatchObject({ shapes: 20 });
    expect(view.rest.bytes + view.shapes.reduce((all, { bytes }) => all + bytes, 0)).toBe(view.total.bytes);
  });

  test.each([
    ['steady', (): number => 100, ['none', undefined]],
    ['by day alone', (slice: number): number => (slice % 8 < 4 ? 100 : 0), ['none', undefined]],
    ['stopped', (slice: number): number => (slice < 15 ? 100 : 0), ['gone', undefined]],
    ['grown', (slice: number): number => (slice < 12 ? 100 : 800), ['grown', 8]],
    ['one peak', (slice: number): number => (slice === 12 ? 5_000 : 100), ['none', undefined]],
  ])('what changed is reported: %s', (_, bytesOf, reported) => {
    expect(changeOf(bytesOf)).toEqual(reported);
  });

  test('new is what was met first in the last day, in an installation that is older than that', () => {
    expect(changeOf(() => 100, 'fresh')).toEqual(['new', undefined]);
    const young = new Map([['fresh', { first: to - 4 * hour, last: to }]]);
    expect(
      shapesView(
        steadily('fresh', () => 100),
        window,
        { facts, seen: young, isCounted: true },
      ).shapes[0]?.change,
    ).toBe('none');
  });

  test('a condition over what is counted picks the sums that it is about', () => {
    expect(isAboutCounts(conditionOf('source = gates (severity >= warn or not shape = a) tier = rest'))).toBe(true);
    expect(isAboutCounts(conditionOf('source = gates timeout'))).toBe(false);
    expect(isAboutCounts(conditionOf('status >= 500'))).toBe(false);
    const sums = [
      sum('a', 0, 100),
      sum('b', 0, 200, { source: 'tides', severity: 5 }),
      sum('c', 0, 300, { outcome: 'passing', tier: '' }),
      sum('d', 0, 400, { outcome: 'excluded' }),
    ];
    const setting = {
      now: to,
      fleets: new Map([['tides', ['piers']]]),
      currentShape: (id: string) => (id === 'old' ? 'a' : id),
    };
    const picked = (text: string): string =>
      sumsWith(sums, conditionOf(text), setting)
        .map(({ shape }) => shape)
        .join('');
    expect(picked('')).toBe('abcd');
    expect(picked('source = gates')).toBe('acd');
    expect(picked('severity >= error')).toBe('b');
    expect(picked('fleet = piers')).toBe('b');
    expect(picked('tier = passing')).toBe('cd');
    expect(picked('shape = old')).toBe('a');
  });
});
