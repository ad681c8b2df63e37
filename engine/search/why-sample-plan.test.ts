import { expect, test } from 'vitest';
import { hour } from '#core/events/time-units.ts';
import { reachingBack } from './reaching-back.ts';
import { fewerPeriods, plannedSamples, type TimedSegment } from './why-sample-plan.ts';

let id = 0;

/** A segment of an hour. */
function segment(source: string, start: number, events: number, tier = 'rest'): TimedSegment {
  id++;
  const times = { from: start * hour, to: (start + 1) * hour - 1 };
  return { id, tier, source, events, inside: true, holds: true, newest: times.to, minutes: undefined, ...times };
}

const since = { from: 100 * hour, to: 110 * hour };
const before = [76, 52].map((start) => ({ from: start * hour, to: (start + 10) * hour }));

test('opens all segments of small periods, and each event represents itself', () => {
  const segments = [52, 60, 76, 80, 100, 105].map((start) => segment('gates', start, 500));
  const planned = plannedSamples(segments, { since, before });
  expect(planned.map(({ segment: { period } }) => period)).toEqual([0, 0, 1, 1, 2, 2]);
  expect(planned.every(({ standsFor }) => standsFor === 1)).toBe(true);
});

test('opens some segments of large periods, at least one per source, weighted for the others', () => {
  const segments = Array.from({ length: 10 }, (_, i) => [
    segment('gates', 100 + i, 65_536),
    segment('tides', 100 + i, 10),
  ]).flat();
  const planned = plannedSamples(segments, { since, before }).filter(({ segment: { period } }) => period === 0);
  const of = (name: string) => planned.filter(({ segment: { source } }) => source === name);
  expect(of('gates').length).toBeLessThan(5);
  expect(of('tides').length).toBeGreaterThan(0);
  for (const source of ['gates', 'tides']) {
    const opened = of(source).reduce((sum, { segment: { events }, standsFor }) => sum + events * standsFor, 0);
    expect(opened).toBeCloseTo(source === 'gates' ? 655_360 : 100, 5);
  }
});

test('counts the fraction of a segment that lies in a period', () => {
  const [planned] = plannedSamples(
    [segment('gates', 99, 1_000), { ...segment('gates', 95, 1_000), to: 105 * hour - 1 }],
    {
      since,
      before,
    },
  );
  expect(planned).toMatchObject({ standsFor: 1, segment: { from: since.from, to: since.to } });
});

test('compares fewer earlier periods for many sources, but at least three', () => {
  const long = Array.from({ length: 7 }, (_, i) => ({ from: i, to: i + 1 }));
  const sources = (count: number) => Array.from({ length: count }, (_, i) => segment(`source-${i}`, 1, 1));
  expect(fewerPeriods(sources(2), { since, before: long }).before).toEqual(long);
  expect(fewerPeriods(sources(15), { since, before: long }).before).toEqual(long.slice(0, 4));
  expect(fewerPeriods(sources(200), { since, before: long }).before).toEqual(long.slice(0, 3));
});

test('leaves out a small tier that has expired its events; a large one moves the start', () => {
  const window = { from: 100 * hour, to: 110 * hour };
  const long = Array.from({ length: 60 }, (_, i) => segment('gates', 50 + i, 1_000));
  const short = (events: number) => [segment('tides', 104, events, 'passing')];
  expect(reachingBack([...long, ...short(100)], window)).toEqual({
    tiers: ['rest'],
    leftOut: ['passing'],
    since: 50 * hour,
  });
  expect(reachingBack([...long, ...short(90_000)], window)).toMatchObject({ leftOut: [], since: 104 * hour });
  expect(reachingBack([], window)).toEqual({ tiers: [], leftOut: [], since: 0 });
});
