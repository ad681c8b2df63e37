import { expect, test } from 'vitest';
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
  const view = overviewView(sums, sums, plan);
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
