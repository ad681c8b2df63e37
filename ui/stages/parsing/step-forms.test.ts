import { expect, test } from 'vitest';
import { checkStep } from '#core/plan/parts/pipelines/check-step.ts';
import { stepKinds } from '#core/steps/index.ts';
import { stepForms } from './step-forms.ts';

test('every kind of step has a form', () => {
  expect(Object.keys(stepForms).sort()).toEqual([...stepKinds.keys()].sort());
});

test.each(Object.entries(stepForms))('%s begins with options that are valid', (kind, { initial, fields }) => {
  // An extract step begins without a template, so that what is proposed for the lines is seen.
  const wrong = kind === 'extract' ? ['.extract.template'] : [];
  expect(checkStep({ [kind]: initial }, '').map(({ path }) => path)).toEqual(wrong);
  expect(new Set(fields.map(({ name }) => name)).size).toBe(fields.length);
});

test.each(Object.entries(stepForms))('%s is asked only for options that it has', (kind, { fields }) => {
  for (const { name } of fields) {
    const problems = checkStep({ [kind]: { [name]: '' } }, '');
    expect(problems.map(({ message }) => message).filter((message) => /unknown|no option/i.test(message))).toEqual([]);
  }
});
