import { expect, test } from 'vitest';
import { checkPlan } from './check.ts';
import { firstPlan } from './document.ts';
import { runTest } from './run-tests.ts';

const tides = {
  id: 'tides',
  title: 'Tides',
  when: 'source = tides',
  steps: [
    { extract: { from: 'body', template: '{gauge},{at:iso},{height:number}' } },
    { 'set-time': { from: 'at' } },
    { 'drop-body': {} },
  ],
};
const sample = { name: 'low water', input: 'tide-2,2027-06-01T05:00:00.000Z,0.4', expect: { height: 0.4, body: '' } };

test('a sample is read as of when it arrived: its time may lie far from the one that others have', () => {
  expect(runTest(tides, { ...sample, arrived: '2027-06-01T05:00:02Z' }).passed).toBe(true);
  expect(runTest(tides, sample).passed).toBe(false);
});

test('what came out is beside what was expected', () => {
  const outcome = runTest(tides, {
    ...sample,
    arrived: '2027-06-01T05:00:02Z',
    expect: { height: 0.5, gauge: 'tide-2', wind: null },
  });
  expect(outcome).toEqual({
    name: 'low water',
    passed: false,
    fields: [
      { field: 'height', expected: 0.5, actual: 0.4 },
      { field: 'gauge', expected: 'tide-2', actual: 'tide-2' },
      { field: 'wind', expected: null, actual: null },
    ],
  });
});

test('a sample that never enters the pipeline says so', () => {
  expect(runTest({ ...tides, when: 'source = tides gale' }, sample).problem).toContain('does not enter the pipeline');
});

test.each([
  ['2027-06-01T05:00:02Z', []],
  [undefined, []],
  ['soon', ['pipelines[0].tests[0].arrived']],
])('a sample that arrived %s', (arrived, faults) => {
  const checked = checkPlan({ ...firstPlan, pipelines: [{ ...tides, tests: [{ ...sample, arrived }] }] });
  expect(checked.ok ? [] : checked.problems.map(({ path }) => path)).toEqual(faults);
});
