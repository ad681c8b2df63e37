import { expect, test } from 'vitest';
import { day, minute } from '../events/time-units.ts';
import type { Use } from './usage.ts';
import { UsageCounts } from './usage-counts.ts';

const now = Date.UTC(2026, 11, 1);

function use(of: Partial<Use> = {}): Use {
  return { reading: 'search', condition: 'status = 500', things: { source: ['gates'] }, oldestAge: 1_000, ...of };
}

test('counts questions and the things that they read', () => {
  const counts = new UsageCounts();
  counts.add(use(), now);
  counts.add(use({ oldestAge: 5_000 }), now + minute);
  counts.add(use({ reading: 'export', condition: 'port = west', things: { source: ['gates', 'tides'] } }), now);
  const { things, questions } = counts.take();
  expect(things).toEqual([
    { kind: 'source', name: 'gates', reading: 'export', times: 1, lastAt: now, oldestAge: 1_000 },
    { kind: 'source', name: 'gates', reading: 'search', times: 2, lastAt: now + minute, oldestAge: 5_000 },
    { kind: 'source', name: 'tides', reading: 'export', times: 1, lastAt: now, oldestAge: 1_000 },
  ]);
  expect(questions.map(({ condition, times }) => [condition, times])).toEqual([
    ['port = west', 1],
    ['status = 500', 2],
  ]);
  expect(counts.isEmpty).toBe(true);
});

test('a screen that refreshes its answer counts once a minute, even after the counts were taken', () => {
  const counts = new UsageCounts();
  for (let second = 0; second < 50; second += 10) counts.add(use(), now + second * 1_000);
  expect(counts.take().questions[0]?.times).toBe(1);
  counts.add(use({ things: { source: ['tides'] } }), now + 55_000);
  expect(counts.take()).toMatchObject({ things: [{ name: 'tides', times: 0 }], questions: [{ times: 0 }] });
});

test('browsing everything counts for what was shown, exporting everything for everything', () => {
  const counts = new UsageCounts();
  counts.add(use({ condition: '', things: { shape: ['gate'] } }), now);
  counts.add(use({ condition: '', reading: 'export', things: {} }), now);
  const { things, questions } = counts.take();
  expect(things.map(({ name }) => name)).toEqual(['gate']);
  expect(questions.map(({ reading, condition }) => [reading, condition])).toEqual([['export', '']]);
});

test('further questions of a day are counted without their values, and things without their names', () => {
  const counts = new UsageCounts();
  const fields = (i: number) => ({ field: [`field${i}`, '', 'x'.repeat(300)] });
  for (let i = 0; i < 25_000; i++) {
    counts.add(use({ condition: `source = gates client = ${i}`, things: fields(i) }), now);
    if (i % 5_000 === 0) counts.take();
  }
  for (let i = 0; i < 3_000; i++) counts.add(use({ condition: `f${i} = 1`, things: {} }), now);
  const { things, questions } = counts.take();
  expect(questions.find(({ condition }) => condition === 'source = gates has client')?.times).toBe(4_999);
  expect(questions.find(({ condition }) => condition === 'has f17')?.times).toBe(1);
  expect(questions.find(({ condition }) => condition === '')?.times).toBe(2_801);
  expect(things.find(({ name }) => name === '')?.times).toBe(4_999);
  counts.add(use({ condition: 'client = 30000' }), now + day);
  expect(counts.take().questions).toMatchObject([{ condition: 'client = 30000' }]);
});

test('counts that could not be saved are put back', () => {
  const counts = new UsageCounts();
  counts.add(use(), now);
  const taken = counts.take();
  counts.add(use(), now + minute);
  counts.putBack(taken);
  expect(counts.take()).toMatchObject({ things: [{ times: 2 }], questions: [{ times: 2, lastAt: now + minute }] });
});
