// @vitest-environment happy-dom
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import type { SampleAnswer, SampleRequest } from './sample.ts';
import type { SampleReport, SampleTask } from './sample.worker.ts';
import { useSample } from './use-sample.ts';

/** Stands in for the worker: keeps what it is given, and reports what a test says. */
class StandInWorker {
  static current: StandInWorker | undefined;
  onmessage: ((event: { readonly data: SampleReport }) => void) | undefined;
  readonly tasks: SampleTask[] = [];
  isEnded = false;

  constructor() {
    StandInWorker.current = this;
  }

  postMessage(task: SampleTask): void {
    this.tasks.push(task);
  }

  terminate(): void {
    this.isEnded = true;
  }
}

beforeEach(() => void vi.stubGlobal('Worker', StandInWorker));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const request = (source: string): SampleRequest => ({
  ...{ source, lines: ['level 3'], counted: { from: 0, to: 1 }, step: 0, followed: 0, marked: [] },
  pipeline: { id: 'tides', title: 'Tides', when: '', steps: [] },
});
const tables: SampleTask['tables'] = {};

function tried() {
  const hook = renderHook(({ source }) => useSample(request(source), tables), { initialProps: { source: 'tides' } });
  const { current: worker } = StandInWorker;
  if (!worker) throw new Error('No worker was started.');
  const report = (id: number, answer: Partial<SampleAnswer>): void =>
    act(() => worker.onmessage?.({ data: { id, answer: answer as SampleAnswer } }));
  return { ...hook, worker, report };
}

test('what the worker finds is the answer', () => {
  const { result, worker, report } = tried();
  expect(worker.tasks.map(({ id, request: { source } }) => [id, source])).toEqual([[1, 'tides']]);
  report(1, { tried: 1 });
  expect(result.current.answer).toEqual({ tried: 1 });
});

test('an answer to what was asked before is passed over', () => {
  const { result, rerender, worker, report } = tried();
  rerender({ source: 'gates' });
  expect(worker.tasks.at(-1)).toMatchObject({ id: 2, request: { source: 'gates' } });
  report(1, { tried: 1 });
  expect(result.current.answer).toBeUndefined();
  report(2, { tried: 5 });
  expect(result.current.answer).toEqual({ tried: 5 });
});

test('the same request is tried once', () => {
  const { rerender, worker } = tried();
  rerender({ source: 'tides' });
  expect(worker.tasks).toHaveLength(1);
});

test('the worker ends with the page', () => {
  const { worker, unmount } = tried();
  unmount();
  expect(worker.isEnded).toBe(true);
});
