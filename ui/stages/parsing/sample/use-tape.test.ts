// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { standingIn, wrapperAt } from '../../../testing/standing-in.tsx';
import { useTape } from './use-tape.ts';

function sample(when: string, address = '') {
  standingIn({
    'GET /api/sources': () => ({ sources: [{ name: 'gates' }, { name: 'tides' }, { name: 'web' }] }),
    'GET /api/tape': () => ({ lines: [{ raw: 'level 3.2' }] }),
  });
  const wrapper = wrapperAt(address);
  return renderHook(({ condition }) => useTape(condition), { wrapper, initialProps: { condition: when } });
}

test('the lines are those of the source that the condition names first', async () => {
  const { result } = sample('source in (tides, gates)');
  await waitFor(() => expect(result.current.lines).toEqual(['level 3.2']));
  expect(result.current.source).toBe('tides');
  expect(result.current.sources).toEqual(['gates', 'tides']);
});

test('another source may be chosen, if its events may enter', async () => {
  const { result } = sample('source in (tides, gates)', '?of=gates');
  await waitFor(() => expect(result.current.source).toBe('gates'));
  act(() => result.current.choose('web'));
  await waitFor(() => expect(result.current.source).toBe('tides'));
});

test('a source of which no line enters is passed over, until the condition changes', async () => {
  const { result, rerender } = sample('level > 2');
  await waitFor(() => expect(result.current.source).toBe('gates'));
  act(() => result.current.skip('gates'));
  expect(result.current.source).toBe('tides');
  act(() => result.current.skip('tides'));
  expect(result.current.source).toBe('web');
  rerender({ condition: 'level > 3' });
  expect(result.current.source).toBe('gates');
});

test('where no source may enter there are no lines to ask for', async () => {
  const { result } = sample('source = mast');
  await waitFor(() => expect(result.current.sources).toEqual([]));
});
