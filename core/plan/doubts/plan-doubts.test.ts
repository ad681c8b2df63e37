import { expect, test } from 'vitest';
import type { PlanDocument } from '../document.ts';
import { planDoubts } from './plan-doubts.ts';

const known = { sources: ['gates', 'tides'], fleets: ['piers'], fields: ['lane', 'status'] };

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'gates',
      title: 'Gates',
      when: 'source = gats',
      steps: [
        { extract: { from: 'body', template: '{gate} opened in {took:duration}' } },
        { choose: { branches: [{ when: 'took > 2q gate = p1', steps: [{ remove: { fields: ['debug'] } }] }] } },
        { 'drop-body': {}, when: 'has debug statsu = 500' },
      ],
      tests: [{ name: 'one', input: 'x', expect: { when: 'source = nobody' } }],
    },
  ],
  tiers: [
    { id: 'bad', title: 'Bad', when: 'severity >= errr or tier = rest', keep: '30d' },
    {
      id: 'rest',
      title: 'Rest',
      keep: '7d',
      exclusions: [{ id: 'probes', title: 'Probes', when: 'fleet = pier lane = x', keep: 'none' }],
    },
  ],
};

test('guards, branches, tiers and exclusions are doubted where they stand', () => {
  expect(planDoubts(plan, known)).toEqual([
    { path: 'pipelines[0].when', message: 'there is no source gats', suggestion: 'gates' },
    { path: 'pipelines[0].steps[1].choose.branches[0].when', message: 'there is no unit q' },
    { path: 'pipelines[0].steps[2].when', message: 'no event has a field statsu', suggestion: 'status' },
    { path: 'tiers[0].when', message: 'there is no severity errr', suggestion: 'error' },
    { path: 'tiers[1].exclusions[0].when', message: 'there is no fleet pier', suggestion: 'piers' },
  ]);
});

test('what is not known is not doubted', () => {
  expect(planDoubts(plan, {}).map(({ message }) => message)).toEqual([
    'there is no unit q',
    'there is no severity errr',
  ]);
});

test('where a step takes out what it does not name, fields before it are not doubted', () => {
  const [gates] = plan.pipelines;
  if (!gates) throw new Error('there is no pipeline');
  const narrow = { ...plan, pipelines: [{ ...gates, steps: [...gates.steps, { 'keep-only': { fields: ['lane'] } }] }] };
  const messages = planDoubts(narrow, known).map(({ message }) => message);
  expect(messages).not.toContain('no event has a field statsu');
  expect(messages).toContain('there is no source gats');
});

test('a plan whose conditions are wrong yet is doubted by those that are right', () => {
  const tiers = [
    { id: 'a', title: 'A', keep: '3d', when: 'severity >=' },
    { id: 'b', title: 'B', keep: '3d', exclusions: [{ id: 'x', title: 'X', when: 'n =', keep: 'none' }] },
    { id: 'c', title: 'C', keep: '3d', when: 'n = 1' },
  ];
  expect(planDoubts({ plan: 1, pipelines: [], tiers }, {})).toEqual([
    { path: 'tiers[2].when', message: 'nothing comes this far: the tiers above take all that it would match' },
  ]);
});
