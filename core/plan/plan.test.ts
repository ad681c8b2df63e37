import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { seededRandom } from '../routing/route.ts';
import { type StepDocument, stepDocument, stepParts } from '../steps/step-document.ts';
import { arrival, batchOf, batchOfLines } from '../testing/batch-of.ts';
import { checkPlan } from './check.ts';
import { compilePlan } from './compile.ts';
import { diffPlans } from './diff.ts';
import type { PlanDocument } from './document.ts';
import { compilePipeline } from './parts/pipelines/compile-pipeline.ts';

const rest = { id: 'rest', title: 'Rest', keep: '7d' };

function plan(parts: Partial<PlanDocument>): PlanDocument {
  const checked = checkPlan({ plan: 1, pipelines: [], tiers: [rest], ...parts });
  if (!checked.ok) throw new Error(checked.problems.map((problem) => `${problem.path}: ${problem.message}`).join());
  return checked.plan;
}

function pipeline(steps: readonly StepDocument[], when = '') {
  return { id: 'p', title: 'P', when, steps };
}

function run(steps: readonly StepDocument[], lines: readonly string[], when = '') {
  const { batch, fates, exits } = runPipelines([compilePipeline(pipeline(steps, when))], batchOfLines(lines), {
    now: arrival,
  });
  return { events: lines.map((_, row) => eventAt(batch, row)), parsed: [...batch.parsed], fates: [...fates], exits };
}

describe('steps', () => {
  test('extract cuts lines, tries templates in order, and says where a misfit stopped', () => {
    const template = '{at:iso} {lvl} pay {amount:number}{currency}';
    const { events, parsed } = run(
      [
        { extract: { from: 'body', templates: [template, '{at:iso} retry {n:int}'] } },
        { 'set-time': { from: 'at' } },
        { 'set-severity': { from: 'lvl' } },
      ],
      ['2026-11-24T08:00:00Z W pay 3.5EUR', '2026-11-24T08:00:01Z retry 2', '2026-11-24T08:00:02Z gone'],
    );
    expect(events[0]).toMatchObject({
      time: Date.UTC(2026, 10, 24, 8),
      severity: 13,
      attributes: { amount: 3.5, currency: 'EUR' },
    });
    expect(events[1]?.attributes).toMatchObject({ n: 2 });
    expect(events[2]?.attributes['parse.failed']).toContain('p/1: expected');
    expect(parsed).toEqual([1, 0, 0]);
  });

  test('a guard limits a step to some events', () => {
    const { events } = run(
      [{ remove: { fields: ['secret'] }, when: 'kind = a' }],
      ['{"kind":"a","secret":1}', '{"kind":"b","secret":2}'],
    );
    expect(events.map((event) => event.attributes.secret)).toEqual([undefined, 2]);
  });

  test('rename, remove and convert', () => {
    const { events } = run(
      [
        { convert: { field: 'took', to: 'duration', unit: 'ms' } },
        { rename: { from: 'took', to: 'elapsed' } },
        { convert: { field: 'size', to: 'size' } },
        { convert: { field: 'flag', to: 'flag' } },
        { remove: { fields: ['noise'] } },
      ],
      ['{"took":250,"size":"3MB","flag":"yes","noise":1}', '{"took":"1s","size":"big"}'],
    );
    expect(events[0]?.attributes).toEqual({ elapsed: 0.25, size: 3e6, flag: true });
    expect(events[1]?.attributes).toMatchObject({ elapsed: 1, size: 'big', 'parse.failed': 'p/3: size is no size' });
  });

  test('drop-body keeps the body of lines that did not fit', () => {
    const { events } = run([{ extract: { from: 'body', template: 'n={n:int}' } }, { 'drop-body': {} }], ['n=1', 'm=2']);
    expect(events.map((event) => event.body)).toEqual(['', 'm=2']);
  });

  test('set-severity by map, with a word for all others', () => {
    const { events } = run(
      [{ 'set-severity': { from: 'code', map: { X7: 'error', '*': 'debug' } } }],
      ['{"code":"x7"}', '{"code":"q"}', '{"code":"WARN"}'],
    );
    expect(events.map((event) => event.severity)).toEqual([17, 5, 13]);
  });

  test('a time that is too far off is not believed', () => {
    const { events } = run([{ 'set-time': { from: 'at' } }], ['{"at":"1999-01-01T00:00:00Z"}']);
    expect(events[0]).toMatchObject({ time: arrival, attributes: { at: '1999-01-01T00:00:00Z' } });
  });

  test('what a step cannot handle is kept and marked, rejected or discarded', () => {
    const step = { extract: { from: 'body', template: 'n={n:int}' } };
    expect(run([step], ['x']).fates).toEqual([0]);
    expect(run([{ ...step, 'on-failure': 'reject' }], ['x', 'n=1'])).toMatchObject({
      fates: [1, 0],
      exits: [{ outcome: 'rejected', rule: 'p/1' }],
    });
    expect(run([{ ...step, 'on-failure': 'discard' }], ['x']).exits).toEqual([{ outcome: 'discarded', rule: 'p/1' }]);
  });
});

describe('routing', () => {
  const events = [
    { level: 'error', kind: 'a' },
    { level: 'info', kind: 'a' },
    { level: 'info', kind: 'noise' },
    { level: 'info', kind: 'other' },
  ];

  test('the first tier that matches takes the event; exclusions go to passing; all are counted', () => {
    const compiled = compilePlan(
      plan({
        tiers: [
          { id: 'errors', title: 'Errors', when: 'severity >= error', keep: '30d' },
          {
            ...rest,
            when: 'kind in (a, noise)',
            exclusions: [{ id: 'n', title: 'N', when: 'kind = noise', keep: 'none' }],
          },
        ],
      }),
    );
    const { tiers, ledger } = compiled.run(batchOf(events), { now: arrival, random: Math.random });
    expect(Object.fromEntries(tiers.map(({ tier, rows }) => [tier, [...rows]]))).toEqual({
      errors: [0],
      rest: [1],
      passing: [2, 3],
    });
    const counted = ledger.map(({ outcome, tier, rule, events: count }) => [outcome, tier, rule, count]);
    expect(counted.sort()).toEqual([
      ['excluded', 'rest', 'n', 1],
      ['kept', 'errors', '', 1],
      ['kept', 'rest', '', 1],
      ['passing', '', '', 1],
    ]);
  });

  test('one in n is kept with its weight, and a journey stays together', () => {
    const many = Array.from({ length: 10_000 }, (_, i) => ({ kind: 'a', journey: `j${i % 500}` }));
    const sampled = (by?: string) =>
      compilePlan(
        plan({
          tiers: [
            { ...rest, exclusions: [{ id: 's', title: 'S', when: 'kind = a', keep: '1 in 10', ...(by && { by }) }] },
          ],
        }),
      ).run(batchOf(many), {
        now: arrival,
        random: seededRandom(7),
      });
    const byChance = sampled();
    const kept = byChance.tiers.find(({ tier }) => tier === 'rest')?.rows ?? new Int32Array();
    const weight = [...kept].reduce((sum, row) => sum + (byChance.batch.weight[row] as number), 0);
    expect(Math.abs(weight - 10_000)).toBeLessThan(5 * Math.sqrt(10_000 * 9));
    const byKey = sampled('journey');
    const rows = [...(byKey.tiers.find(({ tier }) => tier === 'rest')?.rows ?? [])];
    const journeys = new Set(rows.map((row) => eventAt(byKey.batch, row).attributes.journey));
    expect(rows.length).toBe(journeys.size * 20);
    expect(journeys.size).toBeGreaterThan(20);
  });
});

describe('checking a plan', () => {
  test('reports everything at once, each with its path', () => {
    const checked = checkPlan({
      plan: 1,
      pipelines: [
        {
          id: 'p',
          title: 'P',
          when: 'a ==',
          steps: [
            { extrat: {} },
            { extract: { from: 'body', template: '{a' } },
            { convert: { field: 'x', to: 'colour' } },
          ],
        },
      ],
      tiers: [
        { id: 'passing', title: 'P', keep: 'long', exclusions: [{ id: 'e', title: 'E', when: 'x', keep: '1 in 1' }] },
        { id: 'passing', title: 'P', keep: '1d' },
      ],
    });
    if (checked.ok) throw new Error('was taken');
    expect(checked.problems.map(({ path }) => path)).toEqual(
      expect.arrayContaining([
        'pipelines[0].when',
        'pipelines[0].steps[0]',
        'pipelines[0].steps[1].extract.template',
        'pipelines[0].steps[2].convert.to',
        'tiers[0].id',
        'tiers[0].keep',
        'tiers[0].exclusions[0].keep',
        'tiers[1].id',
      ]),
    );
    expect(checked.problems.find(({ path }) => path === 'pipelines[0].steps[0]')?.message).toContain(
      'did you mean extract?',
    );
  });

  test('a name that nothing has is reported, with what may be meant', () => {
    const checked = checkPlan({
      plan: 1,
      pipeline: [],
      tiers: [
        {
          id: 'rest',
          title: 'Rest',
          keep: '3d',
          wen: 'source = gates',
          cap: { day: '1 GB', over: 'passing', lifted: true },
        },
      ],
    });
    expect(checked.ok ? [] : checked.problems.map(({ path, message }) => `${path}: ${message}`).sort()).toEqual([
      'pipeline: nothing here is called pipeline; did you mean pipelines?',
      'tiers[0].cap.lifted: nothing here is called lifted',
      'tiers[0].wen: nothing here is called wen; did you mean when?',
    ]);
  });

  test.each([[null], [[]], [{ plan: 2 }], [{ plan: 1, tiers: 'none' }], ['text']])(
    '%j is no plan and does not throw',
    (value) => {
      expect(checkPlan(value).ok).toBe(false);
    },
  );
});

test('changes are put in words', () => {
  const before = plan({ pipelines: [pipeline([{ 'drop-body': {} }])] });
  const after = plan({
    pipelines: [pipeline([{ remove: { fields: ['x'] } }, { 'drop-body': {} }])],
    tiers: [{ ...rest, keep: '14d', exclusions: [{ id: 'n', title: 'Noise', when: 'x = 1', keep: 'none' }] }],
  });
  expect(diffPlans(before, after).map(({ kind, text }) => `${kind}: ${text}`)).toEqual([
    'added: step 1 of “P” is new: remove x',
    'changed: “Rest” keeps events for 14 d',
    'added: exclusion in “Rest” “Noise” is new',
  ]);
  expect(diffPlans(after, after)).toEqual([]);
});

test('a step taken apart and put together is the same step', () => {
  const step = { remove: { fields: ['x'] }, when: 'has x', 'on-failure': 'reject' };
  expect(stepDocument(stepParts(step))).toEqual(step);
});
