import { expect, test } from 'vitest';
import type { PlanDocument } from './document.ts';
import { placeInWords } from './place-in-words.ts';

const plan: PlanDocument = {
  plan: 1,
  pipelines: [
    {
      id: 'web',
      title: 'Web lines',
      when: '',
      steps: [{ 'drop-body': {} }, { extract: { from: 'body', template: '{' } }],
    },
  ],
  tiers: [
    { id: 'rest', title: 'Rest', keep: 'x', exclusions: [{ id: 'probes', title: 'Probes', when: '=', keep: 'none' }] },
  ],
};

test.each([
  [
    'pipelines[0].steps[1].extract.template',
    'Pipeline “Web lines”, step 2 (extract), template',
    { part: 'pipelines', id: 'web', step: 2, field: 'template' },
  ],
  ['pipelines/web/steps/1', 'Pipeline “Web lines”, step 1 (drop-body)', { part: 'pipelines', id: 'web', step: 1 }],
  ['pipelines[0].when', 'Pipeline “Web lines”, when', { part: 'pipelines', id: 'web', field: 'when' }],
  ['tiers[0].keep', 'Tier “Rest”, keep', { part: 'tiers', id: 'rest', field: 'keep' }],
  [
    'tiers[0].exclusions[0].when',
    'Tier “Rest”, exclusion “Probes”, when',
    { part: 'tiers', id: 'rest', exclusion: 'probes', field: 'when' },
  ],
  [
    'tiers/rest/exclusions/probes',
    'Tier “Rest”, exclusion “Probes”',
    { part: 'tiers', id: 'rest', exclusion: 'probes' },
  ],
  ['tiers/gone', 'Tier “gone”', undefined],
  ['tiers[7].keep', 'Tier “7”, keep', undefined],
  ['plan', 'plan', undefined],
  ['', '', undefined],
])('%j is %s', (path, words, item) => {
  expect(placeInWords(plan, path)).toEqual({ words, item });
});
