// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { standingIn, wrapperAt } from '../../testing/standing-in.tsx';
import { isEmpty, type SearchRequest, useSearch } from './use-search.ts';

const base = { from: 0, to: 1, show: '', with: '', limit: 10, buckets: 0, fields: false };
const asked = (condition: string): SearchRequest => ({ ...base, condition });

/** An answer in lines that a test writes piece by piece. */
function lines() {
  const { readable, writable } = new TransformStream<string, string>();
  const writer = writable.getWriter();
  const body = readable.pipeThrough(new TextEncoderStream());
  return {
    answer: new Response(body),
    write: async (line: object): Promise<void> => await writer.write(`${JSON.stringify(line)}\n`),
  };
}

function searching(answers: Readonly<Record<string, (signal: AbortSignal | undefined) => unknown>>) {
  standingIn({
    'POST /api/search': (body, signal) => answers[(body as SearchRequest).condition]?.(signal),
  });
  const wrapper = wrapperAt();
  const initialProps: { request: SearchRequest | undefined } = { request: undefined };
  return renderHook(({ request }) => useSearch(request), { wrapper, initialProps });
}

test('the newest lines are there before the answer, which takes their place', async () => {
  const { answer, write } = lines();
  const { result, rerender } = searching({ a: () => answer });
  expect(result.current.running).toBe(false);
  rerender({ request: asked('a') });
  expect(result.current.running).toBe(true);
  await write({ progress: { total: 1, events: [{ id: 'e1' }] } });
  await waitFor(() => expect(result.current.early?.events).toEqual([{ id: 'e1' }]));
  expect(result.current.result).toBeUndefined();
  await write({ result: { total: 2, events: [] } });
  await waitFor(() => expect(result.current.running).toBe(false));
  expect(result.current.result).toMatchObject({ total: 2 });
  expect(result.current.early).toBeUndefined();
  expect(isEmpty(result.current)).toBe(false);
});

test('another question cancels the one that runs, whose answer comes to nothing', async () => {
  const first = lines();
  const second = lines();
  const signals: (AbortSignal | undefined)[] = [];
  const { result, rerender } = searching({
    a: (signal) => {
      signals.push(signal);
      return first.answer;
    },
    b: () => second.answer,
  });
  rerender({ request: asked('a') });
  await waitFor(() => expect(signals).toHaveLength(1));
  rerender({ request: asked('b') });
  expect(signals[0]?.aborted).toBe(true);
  await second.write({ result: { total: 0, events: [] } });
  await waitFor(() => expect(result.current.answered?.condition).toBe('b'));
  expect(isEmpty(result.current)).toBe(true);
});

test('a search that fails leaves what was found before, with the reason', async () => {
  const { answer, write } = lines();
  const problem = { in: 'condition', start: 3, message: 'a value is missing' };
  const { result, rerender } = searching({
    a: () => answer,
    'b =': () => Response.json({ detail: 'a value is missing', problem }, { status: 400 }),
  });
  rerender({ request: asked('a') });
  await write({ result: { total: 1, events: [] } });
  await waitFor(() => expect(result.current.running).toBe(false));
  rerender({ request: asked('b =') });
  await waitFor(() => expect(result.current.failed).toEqual({ message: 'a value is missing', problem }));
  expect(result.current.answered?.condition).toBe('a');
});

test('a search that is stopped runs no longer', async () => {
  const { result, rerender } = searching({ a: () => lines().answer });
  rerender({ request: asked('a') });
  act(() => result.current.cancel());
  expect(result.current.running).toBe(false);
});
