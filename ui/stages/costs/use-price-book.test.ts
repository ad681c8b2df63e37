// @vitest-environment happy-dom
import { act, renderHook, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import { type StandIn, standingIn, wrapperAt } from '../../testing/standing-in.tsx';
import { usePriceBook } from './use-price-book.ts';

const saved = { text: 'prices: 1', savedAt: 5, shown: true, history: [] };
const right: StandIn = () => ({ currency: null, days: [] });

async function editing(savePrices: StandIn, tryPrices = right) {
  const requests = standingIn({
    'GET /api/prices': () => saved,
    'POST /api/prices/trial': tryPrices,
    'PUT /api/prices': savePrices,
  });
  const { result } = renderHook(usePriceBook, { wrapper: wrapperAt() });
  await waitFor(() => expect(result.current.text).toBe('prices: 1'));
  return { result, requests };
}

test('a book is saved once it has been changed, is right, and is not being typed', async () => {
  const { result, requests } = await editing(() => ({ savedAt: 6 }));
  expect(result.current.canSave).toBe(false);
  act(() => result.current.edit('prices: 2'));
  expect(result.current.canSave).toBe(false);
  await waitFor(() => expect(result.current.canSave).toBe(true));
  await act(() => result.current.save());
  const [request] = requests.filter(({ asked }) => asked === 'PUT /api/prices');
  expect(request?.body).toEqual({ text: 'prices: 2', basedOn: 5 });
});

test('what is typed while it is being saved stays, and is based on what was saved', async () => {
  let finish = (_: object): void => {};
  const pending = new Promise<object>((resolve) => {
    finish = resolve;
  });
  const { result, requests } = await editing(() => pending);
  act(() => result.current.edit('prices: 2'));
  let saving: Promise<void> = Promise.resolve();
  act(() => {
    saving = result.current.save();
  });
  act(() => result.current.edit('prices: 3'));
  finish({ savedAt: 6 });
  await act(() => saving);
  expect(result.current.text).toBe('prices: 3');
  await act(() => result.current.save());
  expect(requests.filter(({ asked }) => asked === 'PUT /api/prices').at(-1)?.body).toMatchObject({ basedOn: 6 });
});

test('what is wrong with a book is shown with its place, and it cannot be saved', async () => {
  const problem = { path: 'entries[0].received', message: 'a price is not negative', line: 3, column: 5 };
  const wrong: StandIn = () => Response.json({ detail: 'It is wrong.', problems: [problem] }, { status: 400 });
  const { result } = await editing(() => ({}), wrong);
  act(() => result.current.edit('prices: -1'));
  await waitFor(() =>
    expect(result.current.problems).toEqual([
      { path: problem.path, message: problem.message, place: 'line 3, column 5: ' },
    ]),
  );
  expect(result.current.canSave).toBe(false);
});
