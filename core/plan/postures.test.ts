import { describe, expect, test } from 'vitest';
import { checkPlan } from './check.ts';
import { diffPlans } from './diff.ts';
import type { PlanDocument } from './document.ts';
import type { PostureDocument } from './parts/postures/postures-shape.ts';
import type { TierDocument } from './parts/tiers/tiers-shape.ts';
import { nothingSwitched, withSwitched } from './postures.ts';

const storm: PostureDocument = {
  id: 'storm',
  title: 'Storm watch',
  overrides: [
    { exclusion: 'rest/*', keep: 'all' },
    { tier: 'rest', keep: '30d' },
    { tier: 'audit', keep: '1d' },
  ],
};

const plan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'audit', title: 'Audit', when: 'source = audit', keep: '400d' },
    {
      id: 'rest',
      title: 'Rest',
      keep: '3d',
      exclusions: [
        { id: 'debug', title: 'Debug', when: 'severity = debug # noise', keep: 'none' },
        { id: 'probes', title: 'Probes', when: 'path = /health*', keep: '1 in 50' },
      ],
    },
  ],
  postures: [storm, { id: 'piers', title: 'Piers', fleet: 'piers', overrides: [{ exclusion: '*', keep: '1 in 2' }] }],
};

const keeps = ({ tiers }: PlanDocument): readonly string[] =>
  tiers.flatMap(({ keep, exclusions = [] }) => [keep, ...exclusions.map((one) => one.keep)]);

describe('what is switched', () => {
  test('nothing leaves the plan as it is', () => {
    expect(withSwitched(plan, nothingSwitched)).toBe(plan);
    expect(withSwitched(plan, { postures: ['gone'], exclusions: [{ exclusion: 'gone/x', keep: 'all' }] })).toEqual(
      plan,
    );
  });

  test('a posture overrides exclusions, and tiers only to keep for longer', () => {
    const on = withSwitched(plan, { postures: ['storm'], exclusions: [] });
    expect(keeps(on)).toEqual(['400d', '30d', 'all', 'all']);
    expect(checkPlan(on).ok).toBe(true);
  });

  test('of a fleet alone: its events meet the override, all others the rule itself', () => {
    const on = withSwitched(plan, { postures: ['piers'], exclusions: [] });
    expect(on.tiers[1]?.exclusions?.map(({ when, keep }) => [when.split('\n')[0], keep])).toEqual([
      ['fleet = piers (severity = debug # noise', '1 in 2'],
      ['severity = debug # noise', 'none'],
      ['fleet = piers (path = /health*', '1 in 2'],
      ['path = /health*', '1 in 50'],
    ]);
  });

  test('single exclusions come first, postures over them', () => {
    const exclusions = [{ exclusion: 'rest/debug', keep: '1 in 7' }];
    expect(keeps(withSwitched(plan, { postures: [], exclusions }))).toEqual(['400d', '3d', '1 in 7', '1 in 50']);
    expect(keeps(withSwitched(plan, { postures: ['storm'], exclusions }))[2]).toBe('all');
  });
});

describe('a cap', () => {
  const capped = (over: unknown, more: object = {}) =>
    checkPlan({
      ...plan,
      postures: [],
      tiers: [{ ...plan.tiers[0], cap: { day: '2 GB', over, ...more } }, plan.tiers[1]],
    });

  test.each([
    ['passing', {}, ''],
    [{ tier: 'rest' }, { zone: 'Europe/Oslo' }, ''],
    [{ tier: 'audit' }, {}, 'tiers[0].cap.over: what is past a cap goes down the stream'],
    [{ tier: 'gone' }, {}, 'tiers[0].cap.over: there is no tier gone'],
    ['elsewhere', {}, 'tiers[0].cap.over: over is passing, sample, refuse'],
    ['sample', { day: 'plenty' }, 'tiers[0].cap.day: plenty is no amount a day'],
    ['sample', { zone: 'Skerry/Harbour' }, 'tiers[0].cap.zone: Skerry/Harbour is not a time zone'],
  ])('that sends what is over %j, with %j: %s', (over, more, message) => {
    const checked = capped(over, more);
    const [first] = checked.ok ? [] : checked.problems;
    expect(first ? `${first.path}: ${first.message}` : '').toContain(message);
    expect(checked.ok).toBe(message === '');
  });

  test('is lifted while a posture says so, and its changes are reported', () => {
    const [audit, rest] = plan.tiers as [TierDocument, TierDocument];
    const before: PlanDocument = { ...plan, tiers: [audit, { ...rest, cap: { day: '2 GB', over: 'sample' } }] };
    const posture: PostureDocument = { ...storm, overrides: [{ tier: 'rest', cap: 'lifted' }] };
    const postures = [posture];
    expect(checkPlan({ ...before, postures }).ok).toBe(true);
    const on = withSwitched({ ...before, postures }, { postures: ['storm'], exclusions: [] });
    expect(on.tiers[1]).toMatchObject({ keep: '3d', cap: { day: '2 GB', lifted: true } });
    expect(diffPlans(plan, before).map(({ text }) => text)).toEqual([
      '“Rest” keeps 2 GB a day (UTC); what is over is sampled',
    ]);
  });
});

describe('a plan with postures', () => {
  test('is right, and its changes are reported', () => {
    expect(checkPlan(plan)).toEqual({ ok: true, plan });
    const other = { ...plan, postures: [{ ...storm, overrides: storm.overrides.slice(0, 1) }] };
    expect(diffPlans(plan, other).map(({ text }) => text)).toEqual([
      'posture “Piers” is taken out',
      'posture “Storm watch” changes other things',
    ]);
  });

  test.each([
    [{ exclusion: 'rest/debgu', keep: 'all' }, 'did you mean rest/debug'],
    [{ exclusion: 'rest/debug', keep: 'some' }, 'keep is none, all'],
    [{ tier: 'gone', keep: '30d' }, 'there is no tier gone'],
    [{ tier: 'rest', keep: 'long' }, 'no duration'],
    [{ keep: 'all' }, 'name one of them'],
    [{ tier: 'rest' }, 'say for how long'],
    [{ exclusion: '*', keep: 'all', cap: 'lifted' }, 'a cap is lifted of a tier'],
    [{ tier: 'rest', exclusion: '*', keep: 'all' }, 'name one of them'],
  ])('tells what is wrong with an override: %j', (override, message) => {
    const checked = checkPlan({ ...plan, postures: [{ ...storm, overrides: [override] }] });
    expect(checked.ok ? '' : checked.problems[0]?.message).toContain(message);
  });

  test('an end that is no time is reported with its place', () => {
    const [audit, rest] = plan.tiers;
    const exclusions = [{ id: 'x', title: 'X', when: 'n = 1', keep: 'none', until: 'friday' }];
    const checked = checkPlan({ ...plan, postures: [], tiers: [audit, { ...rest, exclusions }] });
    expect(checked.ok ? [] : checked.problems.map(({ path }) => path)).toEqual(['tiers[1].exclusions[0].until']);
  });
});
