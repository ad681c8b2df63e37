// @vitest-environment happy-dom
import { act, cleanup, renderHook } from '@testing-library/react';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { useTabs } from './use-tabs.ts';

const { router, address } = vi.hoisted(() => ({
  router: { push: vi.fn(), replace: vi.fn() },
  address: { query: '' },
}));
vi.mock('next/navigation', () => ({
  useRouter: () => router,
  useSearchParams: () => new URLSearchParams(address.query),
}));

const kept = (): unknown => JSON.parse(localStorage.getItem('explore-tabs') ?? '[]');

beforeEach(() => {
  localStorage.clear();
  router.push.mockClear();
  router.replace.mockClear();
});

afterEach(cleanup);

/** Opens Explore at an address; `isLoaded`: the page is loaded there, rather than reached by a link within it. */
function opened(query: string, isLoaded = false) {
  address.query = query;
  const entries = isLoaded ? [{ name: window.location.href }] : [];
  vi.spyOn(performance, 'getEntriesByType').mockReturnValue(entries as unknown as PerformanceEntryList);
  return renderHook(useTabs);
}

const keep = (...tabs: readonly object[]): void => localStorage.setItem('explore-tabs', JSON.stringify(tabs));

test('what the address asks is kept in the tab that it names', () => {
  opened('tab=abc&c=fog');
  expect(kept()).toEqual([{ id: 'abc', title: '', query: 'c=fog' }]);
});

test('without a question the last one is restored', () => {
  keep({ id: '', title: '', query: 'c=fog' });
  opened('');
  expect(router.replace).toHaveBeenCalledWith('/explore?c=fog');
});

test('a link from elsewhere opens in a tab of its own', () => {
  keep({ id: '', title: '', query: 'c=fog' });
  opened('c=ice', true);
  expect(router.replace.mock.calls[0]?.[0]).toMatch(/^\/explore\?c=ice&tab=\w+$/);
  expect(kept()).toEqual([{ id: '', title: '', query: 'c=fog' }]);
});

test('a link that was opened before reuses its tab', () => {
  keep({ id: '', title: '', query: 'c=fog' }, { id: 'abc', title: '', query: 'c=ice' });
  opened('c=ice', true);
  expect(router.replace).toHaveBeenCalledWith('/explore?c=ice&tab=abc');
});

test('the tab that is closed gives way to the one before it', () => {
  keep({ id: '', title: '', query: 'c=fog' }, { id: 'abc', title: 'Ice', query: 'c=ice' });
  const { result } = opened('tab=abc&c=ice');
  act(() => result.current.close('abc'));
  expect(result.current.tabs.map(({ id }) => id)).toEqual(['']);
  expect(router.push).toHaveBeenCalledWith('/explore?c=fog');
});

test('a tab is renamed', () => {
  const { result } = opened('tab=abc&c=ice');
  act(() => result.current.rename('abc', ' Ice watch '));
  expect(result.current.tabs.find(({ id }) => id === 'abc')?.title).toBe('Ice watch');
});
