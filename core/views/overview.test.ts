import { expect, test } from 'vitest';
import { unit } from '../costs/money.ts';
import { overviewView } from './overview.ts';

const plan = { plan: 1 as const, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }] };

test('what leaves a place of the flow map is what came into it', () => {
  const sums = Array.from({ length: 14 }, (_, i) => ({
    start: 0,
    source: `s${i}`,
    parsed: i % 3 !== 0,
    outcome: i % 4 === 0 ? 'excluded' : 'kept',
    tier: 'rest',
    events: i + 1,
    bytes: (i + 1) * 100,
    stored: 0,
  }));
  const view = overviewView(sums, sums, { plan, tiersByAge: [] });
  const into = (id: string) =>
    view.flow.links.filter((link) => link.to === id).reduce((sum, link) => sum + link.bytes, 0);
  const outOf = (id: string) =>
    view.flow.links.filter((link) => link.from === id).reduce((sum, link) => sum + link.bytes, 0);
  for (const id of ['parsed', 'unparsed']) expect(into(id)).toBe(outOf(id));
  expect(view.flow.nodes.filter((node) => node.kind === 'source').reduce((sum, node) => sum + node.bytes, 0)).toBe(
    view.arrived.bytes,
  );
  expect(view.flow.nodes.find((node) => node.id === 'source:')?.title).toBe('6 smaller');
  expect(view.places.map((place) => place.id)).toEqual(['tier:rest', 'excluded']);
  expect(view.keptShare).toBeCloseTo(view.kept.bytes / view.arrived.bytes);
});

test('coins of a column of the flow map add up to what all of it costs', () => {
  const sums = Array.from({ length: 9 }, (_, i) => ({
    ...{ start: 0, source: `s${i}`, parsed: i % 3 !== 0, outcome: i % 2 === 0 ? 'excluded' : 'kept', tier: 'rest' },
    ...{ events: 1, bytes: 10, stored: 3 },
  }));
  const cost = unit / 300n;
  const view = overviewView(
    sums,
    sums,
    { plan, tiersByAge: [] },
    {
      currency: { sign: 'cr', digits: 2 },
      costOf: () => ({ received: cost, kept: 0n, series: 0n, stored: 0n }),
    },
  );
  const coins = (list: readonly { readonly coins: number }[]) => list.reduce((sum, part) => sum + part.coins, 0);
  const { nodes, links } = view.flow;
  expect(coins(nodes.filter(({ kind }) => kind === 'source'))).toBe(3);
  expect(coins(nodes.filter(({ kind }) => kind === 'parsed' || kind === 'unparsed'))).toBe(3);
  expect(coins(nodes.filter(({ kind }) => kind === 'tier' || kind === 'excluded'))).toBe(3);
  expect(coins(links.filter(({ from }) => from.startsWith('source:')))).toBe(3);
  expect(coins(Object.values(view.slices[0]?.places ?? {}))).toBe(3);
});
