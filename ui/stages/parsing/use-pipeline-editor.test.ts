// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { beforeEach, expect, test, vi } from 'vitest';
import type { PlanDocument } from '#core/plan/document.ts';
import { standingIn, wrapperAt } from '../../testing/standing-in.tsx';
import { usePipelineEditor } from './use-pipeline-editor.ts';

const { router } = vi.hoisted(() => ({ router: { push: vi.fn(), replace: vi.fn() } }));
vi.mock('next/navigation', () => ({ useRouter: () => router }));

const extract = { extract: { from: 'body', template: 'level {level:number}' } };
const live: PlanDocument = {
  plan: 1,
  pipelines: [
    { id: 'tides', title: 'Tides', when: 'source = tides', steps: [extract, { rename: { level: 'height' } }] },
    { id: 'new-pipeline', title: 'New pipeline', when: '', steps: [] },
  ],
  tiers: [{ id: 'rest', title: 'Rest', keep: '3d' }],
};

beforeEach(() => {
  router.push.mockClear();
  router.replace.mockClear();
});

async function editing(id: string, published = live) {
  const saved: PlanDocument[] = [];
  let stored: object | null = published === live ? null : draftOf(live, 1);
  standingIn({
    'GET /api/plan': () => ({ revision: 1, plan: published }),
    'GET /api/plan/draft': () => stored,
    'PUT /api/plan/draft': (body) => {
      const { plan } = body as { plan: PlanDocument };
      saved.push(plan);
      stored = draftOf(plan, saved.length + 1);
      return stored;
    },
  });
  const { result } = renderHook(() => usePipelineEditor(id), { wrapper: wrapperAt() });
  await waitFor(() => expect(result.current.pipeline).toBeDefined());
  return { result, saved };
}

function draftOf(plan: PlanDocument, version: number) {
  return { plan, version, basedOn: 1, changes: [], problems: [], doubts: [], rehearsal: null, leaving: [], behind: [] };
}

test('what is typed in a step is shown at once, and in the draft once typing rests', async () => {
  const { result, saved } = await editing('tides');
  const typed = { extract: { from: 'body', template: 'level {height:number}' } };
  act(() => result.current.setStep(typed));
  expect(result.current.pipeline?.steps[0]).toEqual(typed);
  expect(saved).toEqual([]);
  await waitFor(() => expect(saved.at(-1)?.pipelines[0]?.steps[0]).toEqual(typed));
});

test('a new pipeline gets the id of its title, and its page', async () => {
  const { result, saved } = await editing('new-pipeline', { ...live, pipelines: live.pipelines.slice(0, 1) });
  act(() => {
    if (result.current.pipeline) result.current.edit({ ...result.current.pipeline, title: 'Wharf cranes' });
  });
  await act(() => result.current.nameByTitle());
  expect(saved.at(-1)?.pipelines.map(({ id }) => id)).toContain('wharf-cranes');
  expect(router.replace).toHaveBeenCalledWith('/parsing/wharf-cranes');
});

test('a pipeline that is live keeps its id, whatever it is called', async () => {
  const { result } = await editing('tides');
  await act(() => result.current.nameByTitle());
  expect(router.replace).not.toHaveBeenCalled();
});

test('which other step makes a field is known', async () => {
  const { result } = await editing('tides');
  act(() => result.current.openStep(2));
  await waitFor(() => expect(result.current.step).toBe(2));
  expect(result.current.makerOf('level')).toMatch(/Tides/);
  expect(result.current.makerOf('nothing')).toBeUndefined();
});

test('a pipeline that is taken out leads back to all of them', async () => {
  const { result, saved } = await editing('tides');
  await act(() => result.current.remove());
  expect(saved.at(-1)?.pipelines.map(({ id }) => id)).toEqual(['new-pipeline']);
  expect(router.push).toHaveBeenCalledWith('/parsing');
});
