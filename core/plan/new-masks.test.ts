import { expect, test } from 'vitest';
import type { StepDocument } from '../steps/step-document.ts';
import { namedSource } from './named-source.ts';
import { newMasks } from './new-masks.ts';

const cards = { mask: { fields: ['body'], find: 'card', with: 'last-four' } };
const guests = { mask: { fields: ['guest'], with: 'hash' } };

function plan(when: string, steps: readonly StepDocument[]) {
  return { plan: 1 as const, pipelines: [{ id: 'p', title: 'P', when, steps }], tiers: [] };
}

test('mask steps that a draft adds are found, wherever they stand', () => {
  const live = plan('source = payments', [cards]);
  const draft = plan('source = payments', [{ 'parse-pairs': { from: 'body' } }, guests, cards]);
  expect(newMasks(live, draft)).toEqual([{ source: 'payments', pipeline: 'p', step: 1, options: guests.mask }]);
  expect(newMasks(live, live)).toEqual([]);
  expect(newMasks({ ...live, pipelines: [] }, draft).map(({ step }) => step)).toEqual([1, 2]);
});

test('a pipeline that names no source has none that could mask for it', () => {
  expect(newMasks(plan('', []), plan('level = error', [cards]))).toEqual([]);
});

test.each([
  ['source = gates', 'gates'],
  ['kind = scan source in (gates, tides)', 'gates'],
  ['source = "pier-network" and has x', 'pier-network'],
  ['resource = gates', ''],
  ['', ''],
])('%j names %j', (condition, source) => {
  expect(namedSource(condition)).toBe(source);
});
