import { describe, expect, test } from 'vitest';
import { day } from '../events/time-units.ts';
import type { PlanDocument } from '../plan/document.ts';
import { amountOf, shareOf, type VolumeSum } from '../routing/volume-sums.ts';
import { overviewView } from './overview.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'long', title: 'Long', keep: '30d' },
    { id: 'rest', title: 'Rest', keep: '7d' },
  ],
};

function sum(more: Partial<VolumeSum>): VolumeSum {
  return {
    start: 0,
    source: 'gates',
    parsed: true,
    outcome: 'kept',
    tier: 'rest',
    events: 10,
    bytes: 1_000,
    stored: 0,
    ...more,
  };
}

test('amounts add up, and a part of nothing is no share', () => {
  expect(amountOf([sum({}), sum({ events: 1, bytes: 2 })])).toEqual({ events: 11, bytes: 1_002 });
  expect(amountOf([])).toEqual({ events: 0, bytes: 0 });
  expect([shareOf(1, 4), shareOf(1, 0)]).toEqual([0.25, 0]);
});

describe('the overview', () => {
  const sums = [
    sum({ tier: 'long' }),
    sum({}),
    sum({ outcome: 'excluded' }),
    sum({ outcome: 'sampled-out' }),
    sum({ outcome: 'passing', tier: '', parsed: false, source: 'tides' }),
    sum({ outcome: 'rejected', tier: '' }),
    sum({ outcome: 'discarded', tier: '' }),
    sum({ tier: 'former', source: 'tides' }),
  ];
  const view = overviewView(sums, [...sums, ...sums.map((each) => ({ ...each, start: day, events: 1 }))], {
    plan,
    tiersByAge: [],
  });

  test('tells what arrived, is parsed and is kept', () => {
    expect(view.arrived).toEqual({ events: 80, bytes: 8_000 });
    expect(view).toMatchObject({ keptShare: 3 / 8, parsedShare: 7 / 8, sources: 2 });
  });

  test('places stand in the order of the plan: tiers, those it no longer has, passing, excluded, rejected', () => {
    expect(view.places.map(({ title }) => title)).toEqual([
      'Long · 30d',
      'Rest · 7d',
      'former',
      'Passing · 1 h',
      'Excluded',
      'Rejected',
    ]);
  });

  test('each stretch of time tells all places, which together are what arrived in it', () => {
    expect(view.slices.map(({ start }) => start)).toEqual([0, day]);
    for (const [i, events] of [80, 8].entries()) {
      const amounts = Object.values(view.slices[i]?.places ?? {});
      expect(amounts).toHaveLength(6);
      expect(amounts.reduce((total, amount) => total + amount.events, 0)).toBe(events);
    }
  });

  test('streams run from sources over parsed and unparsed to places', () => {
    const streams = view.flow.links.map(({ from, to, events }) => `${from} ${to} ${events}`).sort();
    expect(streams).toEqual(
      [
        'parsed excluded 20',
        'parsed rejected 20',
        'parsed tier:former 10',
        'parsed tier:long 10',
        'parsed tier:rest 10',
        'source:gates parsed 60',
        'source:tides parsed 10',
        'source:tides unparsed 10',
        'unparsed passing 10',
      ].sort(),
    );
  });

  test('nothing arrived: nothing is drawn', () => {
    expect(overviewView([], [], { plan, tiersByAge: [] })).toMatchObject({
      flow: { nodes: [], links: [] },
      keptShare: 0,
      parsedShare: 0,
      sources: 0,
      slices: [],
      places: [],
    });
  });
});
