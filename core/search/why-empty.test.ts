import { expect, test } from 'vitest';
import { day } from '../events/time-units.ts';
import type { PlanDocument } from '../plan/document.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';
import { whyEmpty } from './why-empty.ts';

const now = 1_795_680_000_000;
const plan: PlanDocument = {
  plan: 1,
  pipelines: [{ id: 'gates', title: 'Gates', when: '', steps: [{ 'drop-body': {} }] }],
  tiers: [
    {
      id: 'short',
      title: 'Short',
      keep: '2d',
      exclusions: [{ id: 'probes', title: 'Probes', when: 'probe', keep: 'none' }],
    },
  ],
};
const sum = (source: string, outcome: string, events: number, more: Partial<VolumeSum> = {}): VolumeSum => ({
  start: 0,
  source,
  outcome,
  tier: '',
  rule: '',
  events,
  bytes: 0,
  stored: 0,
  ...more,
});
const sums = [
  sum('gates', 'kept', 70, { tier: 'short' }),
  sum('gates', 'kept', 20, { tier: 'taken-out' }),
  sum('gates', 'excluded', 300, { tier: 'short', rule: 'probes' }),
  sum('tides', 'excluded', 5, { tier: 'short', rule: 'probes' }),
  sum('gates', 'rejected', 4, { rule: 'gates/1' }),
  sum('gates', 'rejected', 3, { rule: 'reading' }),
  // Where rejects are stored, apart from how many they are.
  sum('gates', 'rejected', 0, { stored: 900 }),
];
const why = (condition: string, from: number, to: number) =>
  whyEmpty(sums, { condition, window: { from, to }, plan, now });

test('what arrived then and went another way is reported, the most first, of the sources that are asked for', () => {
  expect(why('source = gates lane = x', now - 5 * day, now - 4 * day)).toEqual({
    arrived: 397,
    reasons: [
      {
        kind: 'excluded',
        events: 300,
        title: 'Tier “Short”, exclusion “Probes”',
        item: { part: 'tiers', id: 'short', exclusion: 'probes' },
      },
      { kind: 'gone', events: 70, title: 'Tier “Short”', item: { part: 'tiers', id: 'short' }, since: now - 2 * day },
      { kind: 'gone', events: 20, title: 'Tier “taken-out”', since: now - 4 * day },
      {
        kind: 'rejected',
        events: 4,
        title: 'Pipeline “Gates”, step 1 (drop-body)',
        item: { part: 'pipelines', id: 'gates', step: 1 },
      },
      { kind: 'rejected', events: 3, title: 'records that could not be read' },
    ],
  });
});

test('what is still stored is no reason', () => {
  const { reasons } = why('lane = x', now - 1_800_000, now - 600_000);
  expect(reasons.map(({ kind, title }) => `${kind} ${title}`)).toEqual([
    'gone Tier “taken-out”',
    'rejected Pipeline “Gates”, step 1 (drop-body)',
    'rejected records that could not be read',
  ]);
});

test('the same rule is one reason, whatever the source; another source is none', () => {
  expect(why('', now - 5 * day, now - 4 * day).reasons[0]).toMatchObject({ kind: 'excluded', events: 305 });
  expect(why('source = ferry', now - 5 * day, now - 4 * day)).toEqual({ arrived: 0, reasons: [] });
});
