import { expect, test } from 'vitest';
import type { PlanDocument } from '../plan/document.ts';
import { tierShades } from './tier-shades.ts';

function planOf(...ids: readonly string[]): PlanDocument {
  return { plan: 1, pipelines: [], tiers: ids.map((id) => ({ id, title: id, keep: '7d' })) };
}

test('a tier keeps its shade when another one is added before it or removed', () => {
  const before = tierShades(planOf('incidents', 'audit', 'rest'), ['passing', 'rejects', 'rest', 'incidents', 'audit']);
  expect(before).toEqual(new Map(Object.entries({ incidents: 0, audit: 1, rest: 3 })));
  const more = tierShades(planOf('storm', 'incidents', 'audit', 'rest'), ['rest', 'incidents', 'audit', 'storm']);
  expect(more).toEqual(new Map(Object.entries({ incidents: 0, audit: 1, storm: 2, rest: 3 })));
  const fewer = tierShades(planOf('storm', 'audit', 'rest'), ['rest', 'incidents', 'audit', 'storm']);
  expect(fewer.get('audit')).toBe(1);
  expect(fewer.get('storm')).toBe(2);
});

test('a tier without a recorded age gets a shade', () => {
  expect(tierShades(planOf('incidents', 'rest'), [])).toEqual(new Map(Object.entries({ incidents: 0, rest: 3 })));
});
