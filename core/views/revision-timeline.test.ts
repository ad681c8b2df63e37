import { expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { attentionFromRevision } from './attention.ts';
import { leavesBand, revisionTimeline, shapeTimeline, timelineStretch } from './revision-timeline.ts';

const published = 20_000 * day + 3 * hour + 20 * minute;
const sum = (start: number, source: string, outcome: string, bytes: number, tier = 'rest') => ({
  ...{ start, source, outcome, tier, events: bytes, bytes, stored: 0 },
});
/** Of the gates a quarter is kept, of the tides all. */
const spreads = [
  { source: 'gates', tier: 'rest', share: 0.25, spread: 0.02, hourly: 1_000 },
  { source: 'tides', tier: 'audit', share: 1, spread: 0, hourly: 100 },
];

const prediction = { sources: ['gates', 'tides', 'weather'], hours: spreads };

test('a revision is followed by whole hours for a day, then by whole days for two weeks', () => {
  const first = 20_000 * day + 4 * hour;
  expect(timelineStretch(published, published + hour)).toBeUndefined();
  expect(timelineStretch(published, published + 2 * hour)).toEqual({ from: first, to: first + hour, every: hour });
  expect(timelineStretch(published, published + day)).toEqual({ from: first, to: first + 23 * hour, every: hour });
  const second = 20_001 * day;
  expect(timelineStretch(published, published + 3 * day)).toEqual({ from: second, to: second + 2 * day, every: day });
  expect(timelineStretch(published, published + 90 * day)).toEqual({ from: second, to: second + 13 * day, every: day });
});

test('what is predicted is a share of what arrived in the stretch, whatever sources it held, with its band', () => {
  const from = 20_000 * day;
  const came = [
    sum(from, 'gates', 'kept', 260),
    sum(from, 'gates', 'excluded', 740),
    sum(from, 'tides', 'kept', 50, 'audit'),
    sum(from, 'cranes', 'kept', 9_999),
    sum(from + hour, 'gates', 'kept', 4_000),
  ];
  const stretch = { from, to: from + 2 * hour, every: hour };
  const [all, rest, audit, gates, tides] = revisionTimeline(prediction, came, { ...stretch, isLeftOut: () => false });
  const [point, later] = all?.points ?? [];
  expect(point).toMatchObject({ start: from, predicted: 300, measured: 310 });
  // An hour like those of the rehearsal: two hundredths of its bytes, and what the share itself may be off.
  expect(point?.band).toBeCloseTo(2.069 * 20 * Math.sqrt(1 + 1 / 24), 1);
  expect([rest?.points[0]?.measured, audit?.points[0]?.measured]).toEqual([260, 50]);
  expect([gates?.points[0]?.predicted, tides?.points[0]?.predicted]).toEqual([250, 50]);
  expect(later).toMatchObject({ predicted: 1_000, measured: 4_000 });
  const some = revisionTimeline(prediction, came, { ...stretch, isLeftOut: (start) => start === from });
  expect(some[0]?.points.map(({ start }) => start)).toEqual([from + hour]);
});

test('what was predicted to be dropped counts where it is kept, and in whatever tier', () => {
  const came = [
    sum(0, 'weather', 'kept', 500, 'other'),
    sum(0, 'tides', 'kept', 30, 'other'),
    sum(0, 'tides', 'kept', 70, 'audit'),
  ];
  const rows = revisionTimeline(prediction, came, { from: 0, to: hour, every: hour, isLeftOut: () => false });
  const of = (kind: string, id: string) => rows.find((row) => row.kind === kind && row.id === id)?.points[0];
  expect(of('all', '')).toMatchObject({ predicted: 100, measured: 600 });
  expect(of('source', 'weather')).toMatchObject({ predicted: 0, measured: 500, band: 0 });
  expect(of('source', 'tides')).toMatchObject({ predicted: 100, measured: 100 });
  expect(of('tier', 'audit')).toMatchObject({ predicted: 100, measured: 70 });
  expect(of('tier', 'other')).toMatchObject({ predicted: 0, measured: 530 });
});

test('few events leave more to chance', () => {
  const band = (bytes: number): number =>
    revisionTimeline(prediction, [sum(0, 'gates', 'kept', bytes)], {
      from: 0,
      to: hour,
      every: hour,
      isLeftOut: () => false,
    })[0]?.points[0]?.band ?? 0;
  expect(band(10) / 10).toBeGreaterThan(5 * (band(1_000) / 1_000));
  expect(band(0)).toBe(0);
});

test('who needs to know is told when an hour is outside of the band by what matters', () => {
  const point = { start: published, predicted: 1_000_000, measured: 1_300_000, band: 100_000 };
  expect(leavesBand(point)).toBe(true);
  expect(leavesBand({ ...point, measured: 1_090_000 })).toBe(false);
  // Sure, but a thirtieth, or a few kilobytes.
  expect(leavesBand({ ...point, measured: 1_030_000, band: 0 })).toBe(false);
  expect(leavesBand({ ...point, predicted: 100, measured: 5_000, band: 0 })).toBe(false);
  expect(attentionFromRevision(7, point)).toMatchObject([
    {
      kind: 'prediction-missed',
      revision: 7,
      title: 'Revision 7 keeps more than predicted',
      detail: 'predicted for the last full hour: 900 kB to 1.1 MB',
      figure: '1.3 MB',
    },
  ]);
  expect(attentionFromRevision(7, { ...point, measured: 2 })[0]?.title).toContain('less');
  expect(attentionFromRevision(7, { ...point, measured: 1_000_000 })).toEqual([]);
});

test('shapes of which a revision keeps something else are followed by what came of them', () => {
  const shapes = [
    { shape: 'dropped', hours: [] },
    { shape: 'halved', hours: [{ source: 'gates', tier: 'rest', share: 0.5, spread: 0, hourly: 100 }] },
    { shape: 'absent', hours: [{ source: 'tides', tier: 'rest', share: 1, spread: 0, hourly: 100 }] },
  ];
  const came = new Map([
    ['dropped', [sum(0, 'gates', 'excluded', 300), sum(hour, 'gates', 'kept', 20)]],
    ['halved', [sum(0, 'gates', 'kept', 40), sum(0, 'gates', 'sampled-out', 60), sum(0, 'cranes', 'kept', 999)]],
  ]);
  const intervals = { from: 0, to: 2 * hour, every: hour, isLeftOut: () => false };
  const rows = shapeTimeline({ ...prediction, shapes }, came, intervals, (shape) => `a ${shape} line`);
  expect(rows.map(({ kind, id, line }) => [kind, id, line])).toEqual(
    shapes.map(({ shape }) => ['shape', shape, `a ${shape} line`]),
  );
  expect(rows.map(({ points }) => points.map(({ predicted, measured }) => [predicted, measured]))).toEqual([
    [
      [0, 0],
      [0, 20],
    ],
    // The cranes are new since the rehearsal.
    [
      [50, 40],
      [0, 0],
    ],
    [
      [0, 0],
      [0, 0],
    ],
  ]);
});
