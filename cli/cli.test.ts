import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, describe, expect, test } from 'vitest';
import { writePlan } from '#core/plan/plan-text.ts';
import { demoPlan } from '#demo/plan.ts';

const folder = mkdtempSync(join(tmpdir(), 'otter-cli-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));

function file(name: string, text: string): string {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
}

function otter(...inputs: readonly string[]): { status: number | null; out: string; errors: string } {
  const { status, stdout, stderr } = spawnSync('node', ['.build/cli/main.js', ...inputs], { encoding: 'utf8' });
  return { status, out: stdout, errors: stderr };
}

describe('plan check', () => {
  test('a good plan', () => {
    const { status, out } = otter('plan', 'check', file('good.yaml', writePlan(demoPlan)));
    expect(status).toBe(0);
    expect(out).toMatch(/the plan is good; \d+ pipelines, \d+ tests passed\./);
  });

  test('faults with line and column', () => {
    const path = file('bad.yaml', 'plan: 1\npipelines: []\ntiers:\n  - id: rest\n    title: Rest\n    keep: soon\n');
    const { status, errors } = otter('plan', 'check', path);
    expect(status).toBe(1);
    expect(errors).toMatch(new RegExp(`^${path}:6:\\d+: tiers`));
  });

  test('a test that fails', () => {
    const [pipeline] = demoPlan.pipelines;
    const tests = [{ name: 'impossible', input: '{"a":1}', expect: { a: 2 } }];
    const plan = { ...demoPlan, pipelines: [{ ...pipeline, tests }] };
    const { status, errors } = otter('plan', 'check', file('failing.json', JSON.stringify(plan)));
    expect(status).toBe(1);
    expect(errors).toContain('impossible');
  });

  test('a test that looks values up in a table which comes along', () => {
    const steps = [{ map: { from: 'code', table: 'pier-codes' } }];
    const tests = [{ name: 'a code', input: '{"code":"N"}', expect: { pier: 'North' } }];
    const pipelines = [{ id: 'calls', title: 'Calls', when: '', steps, tests }];
    const plan = file('mapping.yaml', writePlan({ ...demoPlan, pipelines }));
    const table = file('Pier codes.csv', 'code,pier\nN,North\n');
    expect(otter('plan', 'check', plan).errors).toContain('a code');
    expect(otter('plan', 'check', plan, table).status).toBe(0);
    expect(otter('plan', 'check', plan, file('odd.csv', 'code\n')).errors).toContain('at least two column names');
  });

  test('a plan that is good and can hardly be meant so', () => {
    const [first] = demoPlan.tiers;
    if (!first) throw new Error('there is no tier');
    const plan = { ...demoPlan, tiers: [{ ...first, when: 'severity >= errr' }, ...demoPlan.tiers.slice(1)] };
    const { status, errors } = otter('plan', 'check', file('doubted.yaml', writePlan(plan)));
    expect(status).toBe(0);
    expect(errors).toMatch(/doubted\.yaml:\d+:\d+: tiers\[0\]\.when: there is no severity errr; did you mean error\?/);
  });

  test('tiers that get nothing and exclusions that never match, each with its place', () => {
    const rest = { id: 'rest', title: 'Rest', keep: '3d' };
    const gates = { id: 'gates', title: 'Gates', keep: '3d', when: 'source = gates' };
    const rule = (id: string, when: string) => ({ id, title: id, when, keep: 'none' });
    const exclusions = [
      rule('a', 'source = piers'),
      rule('b', 'severity = debug'),
      rule('c', 'severity = debug n = 1'),
    ];
    const plan = {
      ...demoPlan,
      postures: [],
      tiers: [{ ...gates, exclusions }, rest, { ...gates, id: 'late', title: 'Late' }],
    };
    const { status, errors } = otter('plan', 'check', file('order.yaml', writePlan(plan)));
    expect(status).toBe(0);
    expect(errors).toMatch(/:\d+:\d+: tiers\[0\]\.exclusions\[0\]\.when: it can never match: the tier takes no such/);
    expect(errors).toMatch(/tiers\[0\]\.exclusions\[2\]\.when: it decides nothing/);
    expect(errors).toMatch(/tiers\[2\]\.when: nothing comes this far/);
    expect(errors.trim().split('\n')).toHaveLength(3);
  });

  test('a file that is not there', () => {
    expect(otter('plan', 'check', join(folder, 'none.yaml'))).toMatchObject({ status: 2 });
  });
});

test('plan schema prints the JSON Schema of plans', () => {
  const { status, out } = otter('plan', 'schema');
  expect(status).toBe(0);
  expect(JSON.parse(out)).toMatchObject({ title: 'Plan', $defs: { step: { oneOf: expect.anything() } } });
});

describe('filter', () => {
  const lines = ['{"status":200,"path":"/fares"}', '{"status":503,"path":"/fares"}', 'no JSON', '{"status":503}'];

  test('tells what can hardly be meant, and prints all the same', () => {
    const { status, errors } = otter('filter', 'status > 2q', file('events.json', lines.join('\n')));
    expect(status).toBe(0);
    expect(errors).toContain('condition:1:10: there is no unit q');
  });

  test('prints the lines that a condition picks', () => {
    const { status, out } = otter('filter', 'status >= 500 and has path', file('events.json', lines.join('\n')));
    expect(status).toBe(0);
    expect(out).toBe('{"status":503,"path":"/fares"}\n');
  });

  test('a wrong condition is reported with its place', () => {
    const { status, errors } = otter('filter', 'status >=', file('events.json', lines.join('\n')));
    expect(status).toBe(1);
    expect(errors).toMatch(/^condition:1:\d+: /);
  });
});

test('prices check names faults with line and column', () => {
  const good = 'prices: 1\ncurrency: { sign: cr }\nentries: [{ from: 2026-10-01, received: 9 }]\n';
  expect(otter('prices', 'check', file('prices.yaml', good)).out).toContain('the price book is good; 1 entries.');
  const bad = file('dear.yaml', good.replace('9', '1e308'));
  const { status, errors } = otter('prices', 'check', bad);
  expect(status).toBe(1);
  expect(errors).toMatch(new RegExp(`^${bad}:3:\\d+: entries\\[0\\].received: a price is at most`));
});

test('how it is called', () => {
  const { status, errors } = otter();
  expect(status).toBe(2);
  expect(errors).toContain('plan check FILE');
});
