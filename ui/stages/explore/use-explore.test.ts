// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { wrapperAt } from '../../testing/standing-in.tsx';
import { useExplore } from './use-explore.ts';

function exploring(address: string) {
  const addresses: string[] = [];
  const { result } = renderHook(useExplore, { wrapper: wrapperAt(address, (query) => addresses.push(query)) });
  return { result, addresses };
}

test('lines and summaries are searched for, shapes and arrivals are not', () => {
  const { result } = exploring('?c=source+%3D+tides&w=-2h');
  expect(result.current.request).toMatchObject({ condition: 'source = tides', show: '', limit: 500, fields: true });
  const summary = exploring('?view=summary&show=count()').result.current.request;
  expect(summary).toMatchObject({ show: 'count()', limit: 0, fields: false });
  for (const view of ['shapes', 'arrivals']) expect(exploring(`?view=${view}`).result.current.request).toBeUndefined();
});

test('a window that cannot be read is not searched in', () => {
  expect(exploring('?w=yesterday-ish').result.current.request).toBeUndefined();
});

test('a part of a condition is switched off and on again', async () => {
  const { result } = exploring('?c=source+%3D+tides+severity+%3E%3D+warn');
  act(() => result.current.switchOff('source = tides', 'severity >= warn'));
  await waitFor(() => expect(result.current.off).toEqual(['severity >= warn']));
  expect(result.current.condition).toBe('source = tides');
  act(() => result.current.switchOn('severity >= warn'));
  await waitFor(() => expect(result.current.condition).toBe('source = tides severity >= warn'));
  expect(result.current.off).toEqual([]);
});

test('of the panel, an event and a shape one is open at a time', async () => {
  const { result } = exploring('?panel=saved');
  act(() => result.current.openEvent('1-00000000'));
  await waitFor(() => expect(result.current.event).toBe('1-00000000'));
  expect(result.current.panel).toBeNull();
  act(() => result.current.openShape('abc'));
  await waitFor(() => expect(result.current.shape).toBe('abc'));
  expect(result.current.event).toBeNull();
});

test('a new question is no longer about what is around an event', async () => {
  const { result, addresses } = exploring('?around=1-00000000&of=source');
  act(() => result.current.start('source = gates'));
  await waitFor(() => expect(result.current.condition).toBe('source = gates'));
  expect(result.current.around).toBeNull();
  expect(addresses.at(-1)).toContain('c=source');
});
