import { expect, test } from 'vitest';
import { fieldUses } from './field-uses.ts';

const plan = {
  plan: 1 as const,
  pipelines: [
    {
      id: 'gates',
      title: 'Gates',
      when: 'source = gates and kind = scan',
      steps: [
        { extract: { from: 'body', template: 'gate {gate} took {took:duration}' } },
        { compute: { set: 'slow', to: 'took * 1000' }, when: 'has gate' },
        {
          choose: {
            branches: [{ when: 'pier = 4', steps: [{ rename: { from: 'gate', to: 'lane' } }] }],
          },
        },
        { 'no-such-step': {} },
      ],
    },
  ],
  tiers: [
    {
      id: 'hot',
      title: 'Hot',
      when: 'slow > 3',
      keep: '7d',
      exclusions: [{ id: 'noise', title: 'Noise', when: 'lane = 1', keep: '1 in 10', by: 'ticket' }],
    },
    { id: 'rest', title: 'Rest', keep: '7d' },
  ],
};

const { makers, readers } = fieldUses(plan);

test('steps make fields, also inside branches', () => {
  expect(makers.map(({ field, at }) => `${field} ${at}`)).toEqual(
    expect.arrayContaining(['gate gates/1', 'took gates/1', 'slow gates/2', 'lane gates/3']),
  );
});

test('conditions, guards, steps, branches, tiers and exclusions read them', () => {
  expect(readers.map(({ field, at }) => `${field} ${at}`)).toEqual(
    expect.arrayContaining([
      'kind gates',
      'took gates/2',
      'gate gates/2',
      'pier gates/3',
      'gate gates/3',
      'slow hot',
      'lane hot/noise',
      'ticket hot/noise',
    ]),
  );
});

test('what is not a valid step reads and makes nothing', () => {
  expect([...makers, ...readers].filter(({ step }) => step === 4)).toEqual([]);
});
