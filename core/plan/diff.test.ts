import { describe, expect, test } from 'vitest';
import { demoPlan } from '#demo/plan.ts';
import { diffPlans } from './diff.ts';
import type { PlanDocument } from './document.ts';
import type { PlanChange } from './plan-change.ts';

const base: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'scans',
      title: 'Scans',
      when: 'source = gates',
      steps: [
        { extract: { from: 'body', template: 'a {b}' } },
        { rename: { from: 'b', to: 'c' } },
        { 'drop-body': {} },
      ],
    },
    { id: 'tides', title: 'Tides', when: 'source = tides', steps: [] },
  ],
  tiers: [
    { id: 'long', title: 'Long', keep: '30d', when: 'severity >= error' },
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [{ id: 'probes', title: 'Probes', when: 'path = /health', keep: 'none' }],
    },
  ],
};

const reported = (after: PlanDocument, before = base): readonly (readonly [PlanChange['kind'], string])[] =>
  diffPlans(before, after).map(({ kind, text }) => [kind, text]);

/** The plan with its first pipeline, or its last tier, changed. */
const withPipeline = (change: object): PlanDocument => ({
  ...base,
  pipelines: base.pipelines.map((each, i) => (i === 0 ? { ...each, ...change } : each)),
});
const withTier = (change: object): PlanDocument => ({
  ...base,
  tiers: base.tiers.map((each, i) => (i === 1 ? { ...each, ...change } : each)),
});

test('a plan does not differ from itself', () => {
  expect(reported(base)).toEqual([]);
  expect(reported(structuredClone(demoPlan), demoPlan)).toEqual([]);
});

describe('pipelines', () => {
  test('new, taken out, in another order', () => {
    const [scans, tides] = base.pipelines as [PlanDocument['pipelines'][0], PlanDocument['pipelines'][0]];
    const wind = { id: 'wind', title: 'Wind', when: '', steps: [] };
    expect(reported({ ...base, pipelines: [scans, tides, wind] })).toEqual([['added', 'pipeline “Wind” is new']]);
    expect(reported({ ...base, pipelines: [tides] })).toEqual([['removed', 'pipeline “Scans” is taken out']]);
    expect(reported({ ...base, pipelines: [tides, scans] })).toEqual([
      ['moved', 'the order of pipelines is now Tides, Scans'],
    ]);
    expect(reported({ ...base, pipelines: [wind, tides] }).map(([kind]) => kind)).toEqual(['removed', 'added']);
  });

  test('title, condition and tests', () => {
    const changes = diffPlans(
      base,
      withPipeline({ title: 'Gate scans', when: 'fleet = piers', tests: [{ name: 'open', input: 'a x', expect: {} }] }),
    );
    expect(changes.map(({ before, after }) => [before, after])).toEqual([
      ['Scans', 'Gate scans'],
      ['source = gates', 'fleet = piers'],
      ['', 'open'],
    ]);
    expect(changes.every(({ path }) => path === 'pipelines.scans')).toBe(true);
  });

  test('what a test takes in and expects', () => {
    const open = { name: 'open', input: 'a x', expect: { c: 'x' } };
    const before = withPipeline({ tests: [open] });
    expect(reported(withPipeline({ tests: [{ ...open, expect: { c: 'y' } }] }), before)).toEqual([
      ['changed', 'test “open” of “Scans” is another'],
    ]);
    const { name, input, expect: expected } = open;
    expect(reported(withPipeline({ tests: [{ expect: expected, input, name }] }), before)).toEqual([]);
  });
});

describe('steps', () => {
  const [cut = {}, renamed = {}, dropped = {}] = base.pipelines[0]?.steps ?? [];

  test('one that was added or taken out does not change its neighbours', () => {
    const remove = { remove: { fields: ['c'] } };
    expect(reported(withPipeline({ steps: [cut, renamed, remove, dropped] }))).toEqual([
      ['added', 'step 3 of “Scans” is new: remove c'],
    ]);
    expect(reported(withPipeline({ steps: [cut, dropped] }))).toEqual([
      ['removed', expect.stringContaining('step 2 of “Scans” is taken out: rename b to c')],
    ]);
  });

  test('one that was changed shows its settings before and after, a line each', () => {
    const [change] = diffPlans(
      base,
      withPipeline({
        steps: [
          { extract: { from: 'body', templates: ['a {b}', 'z {b}'] }, when: 'n = 1', 'on-failure': 'reject' },
          renamed,
          dropped,
        ],
      }),
    );
    expect(change).toMatchObject({
      kind: 'changed',
      text: 'step 1 of “Scans” is changed: cut body into fields with 2 templates, when n = 1',
    });
    expect(change?.before?.split('\n')).toEqual(expect.arrayContaining(['template: a {b}']));
    expect(change?.after?.split('\n')).toEqual(
      expect.arrayContaining(['templates: a {b}', 'templates: z {b}', 'on-failure: reject']),
    );
  });
});

describe('tiers', () => {
  test('how long they keep is put in words', () => {
    const [change] = diffPlans(base, withTier({ keep: '36h' }));
    expect(change).toMatchObject({ kind: 'changed', path: 'tiers.rest' });
    expect(`${change?.before} ${change?.after}`).toMatch(/7 d.*1 d 12 h|7d.*36h/);
  });

  test('exclusions: new, changed, taken out', () => {
    const probes = base.tiers[1]?.exclusions?.[0];
    const debug = { id: 'debug', title: 'Debug', when: 'severity = debug', keep: 'none' };
    expect(reported(withTier({ exclusions: [probes, debug] }))).toEqual([
      ['added', expect.stringContaining('“Debug” is new')],
    ]);
    expect(reported(withTier({ exclusions: [] }))).toEqual([['removed', expect.stringContaining('“Probes”')]]);
    expect(reported(withTier({ exclusions: [{ ...probes, keep: '1 in 10' }] })).map(([kind]) => kind)).toEqual([
      'changed',
    ]);
  });
});
