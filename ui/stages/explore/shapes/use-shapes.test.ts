// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { standingIn, wrapperAt } from '../../../testing/standing-in.tsx';
import { mostCompared, useShapes } from './use-shapes.ts';

const shapes = Array.from({ length: 8 }, (_, i) => ({ id: `s${i}`, events: 10 - i, bytes: 100 + i }));

function listed(address = '', isShown = true, window = '-2h') {
  const requests = standingIn({ 'GET /api/shapes': () => ({ currency: null, shapes }) });
  const wrapper = wrapperAt(address);
  const { result } = renderHook(() => useShapes('source = tides', window, isShown), { wrapper });
  return { result, requests };
}

test('shapes are sorted by the measure that the address names', async () => {
  const { result } = listed('?by=events');
  await waitFor(() => expect(result.current.shapes[0]?.id).toBe('s0'));
  act(() => result.current.setMeasure('bytes'));
  await waitFor(() => expect(result.current.shapes[0]?.id).toBe('s7'));
});

test('a window is asked for with its ends, up to now where it has no end', async () => {
  const { requests } = listed('', true, '-2h');
  await waitFor(() => expect(requests).toHaveLength(1));
  expect(requests[0]?.asked).toContain('from=-2h&to=now');
  expect(listed('', true, '-2h..-1h').result.current.asked).toMatchObject({ from: '-2h', to: '-1h' });
});

test('nothing is asked for while they are not shown', () => {
  const { requests } = listed('', false);
  expect(requests).toEqual([]);
});

test('of the shapes that are compared the earliest gives way to one too many', async () => {
  const { result } = listed(`?compare=${shapes.slice(0, mostCompared).map(({ id }) => id)}`);
  await waitFor(() => expect(result.current.compared).toHaveLength(mostCompared));
  const last = result.current.shapes.find(({ id }) => id === 's7');
  if (!last) throw new Error('There are eight shapes.');
  act(() => result.current.setCompared(last, true));
  await waitFor(() =>
    expect(result.current.compared.map(({ id }) => id)).toEqual(['s1', 's2', 's3', 's4', 's5', 's7']),
  );
  act(() => result.current.setCompared(last, false));
  await waitFor(() => expect(result.current.compared).toHaveLength(mostCompared - 1));
});
