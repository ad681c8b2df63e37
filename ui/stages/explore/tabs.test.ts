import { expect, test } from 'vitest';
import {
  addressOf,
  mainTab,
  mostTabs,
  readTabs,
  type SearchTab,
  tabOf,
  titleOf,
  withoutTab,
  withTab,
  withTitle,
} from './tabs.ts';

const tab = (id: string, query = '', title = ''): SearchTab => ({ id, query, title });

test('an address names a tab and what it asks', () => {
  expect(tabOf('?c=source+%3D+gates&tab=k3&w=-2h&focus=1')).toEqual({ id: 'k3', query: 'c=source+%3D+gates&w=-2h' });
  expect(tabOf('')).toEqual({ id: mainTab, query: '' });
  for (const address of ['/explore', '/explore?c=boards', '/explore?c=boards&tab=k3'])
    expect(addressOf(tabOf(address.slice('/explore'.length)))).toBe(address);
});

test('a tab that asks something else keeps its place and its name', () => {
  const tabs = [tab(mainTab), tab('a', 'c=1', 'First'), tab('b')];
  expect(withTab(tabs, { id: 'a', query: 'c=2' })[1]).toEqual(tab('a', 'c=2', 'First'));
});

test('the main tab comes first, and only so many others are kept', () => {
  let tabs = withTab([tab('a')], { id: mainTab, query: 'c=1' });
  expect(tabs.map(({ id }) => id)).toEqual([mainTab, 'a']);
  for (let i = 0; i < 2 * mostTabs; i++) tabs = withTab(tabs, { id: `t${i}`, query: '' });
  expect(tabs.length).toBe(mostTabs);
  expect(tabs[0]?.id).toBe(mainTab);
  expect(tabs.at(-1)?.id).toBe(`t${2 * mostTabs - 1}`);
});

test('a closed tab gives way to the one before it, and the main one stays', () => {
  const tabs = [tab(mainTab, 'c=1'), tab('a', 'c=2'), tab('b', 'c=3')];
  expect(withoutTab(tabs, 'b')).toMatchObject({ next: { id: 'a' }, tabs: [{ id: mainTab }, { id: 'a' }] });
  expect(withoutTab(tabs, 'a').next).toMatchObject({ id: mainTab, query: 'c=1' });
  expect(withoutTab(tabs, mainTab).tabs).toEqual(tabs);
});

test('a tab is called by its name, or by what it asks', () => {
  expect(titleOf(tab('a', 'c=status+%3E%3D+500'))).toBe('status >= 500');
  expect(titleOf(tab('a', 'view=summary&show=count()&c=boards'))).toBe('boards · count()');
  expect(titleOf(tab('a'))).toBe('every event');
  const named = withTitle([tab('a')], 'a', '  Night errors ');
  expect(named.map(titleOf)).toEqual(['Night errors']);
  expect(withTitle(named, 'a', ' ').map(titleOf)).toEqual(['every event']);
});

test('what a browser kept and is no tab is left out', () => {
  expect(readTabs(JSON.stringify([tab('a'), { id: 1 }, null, 'x']))).toEqual([tab('a')]);
  expect([readTabs(null), readTabs('{'), readTabs('{}')]).toEqual([[], [], []]);
});
