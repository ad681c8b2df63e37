// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { PlanDocument } from '#core/plan/document.ts';
import { standingIn, wrapperAt } from '../../testing/standing-in.tsx';
import { useRouting } from './use-routing.ts';

const amount = (bytes: number) => ({ events: 1, bytes });
const volume = (id: string, kept: number, removed = 0, over = 0) => ({
  ...{ id, kept: amount(kept), removed: amount(removed), over: amount(over) },
});

const live: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'incidents', title: 'Incidents', when: 'severity >= error', keep: '90d' },
    { id: 'web', title: 'Web', when: 'source = web', keep: '7d', cap: { day: '1 GB', over: { tier: 'rest' } } },
    { id: 'rest', title: 'Rest', keep: '3d' },
  ],
};

async function routing(address = '') {
  const saved: PlanDocument[] = [];
  standingIn({
    'GET /api/plan': () => ({ revision: 1, plan: live }),
    'GET /api/plan/draft': () => null,
    'PUT /api/plan/draft': (body) => {
      const { plan } = body as { plan: PlanDocument };
      saved.push(plan);
      return { ...draftOf(plan), version: saved.length };
    },
    'GET /api/routing': () => ({
      arrived: amount(1_000),
      tiers: [volume('incidents', 100, 50), volume('web', 200, 0, 300), volume('rest', 400)],
    }),
  });
  const { result } = renderHook(useRouting, { wrapper: wrapperAt(address) });
  await waitFor(() => expect(result.current.data && result.current.plan).toBeTruthy());
  return { result, saved };
}

function draftOf(plan: PlanDocument) {
  return { plan, basedOn: 1, changes: [], problems: [], doubts: [], rehearsal: null, leaving: [], behind: [] };
}

test('what a tier takes is gone for those below it, but for what its cap sends on', async () => {
  const { result } = await routing();
  const { plan, takenBy, leftBefore } = result.current;
  expect(plan?.tiers.map(takenBy)).toEqual([150, 200, 400]);
  expect(plan?.tiers.map(leftBefore)).toEqual([1_000, 850, 650]);
});

test('an address opens a tier, or a posture where it names no tier', async () => {
  const { result } = await routing('?tier=web');
  expect(result.current.tier?.title).toBe('Web');
  act(() => result.current.close());
  await waitFor(() => expect(result.current.tier).toBeUndefined());
});

test('a new tier comes first in the draft', async () => {
  const { result, saved } = await routing();
  act(() => result.current.addTier());
  await waitFor(() => expect(saved).toHaveLength(1));
  expect(saved[0]?.tiers.map(({ id }) => id)).toEqual(['new-tier', 'incidents', 'web', 'rest']);
});
