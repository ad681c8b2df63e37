import { type StepDocument, stepParts } from '../../../steps/step-document.ts';
import { isSame } from '../../merge.ts';
import { changed, diffList, type PlanChange } from '../../plan-change.ts';
import { describeStep } from './describe-step.ts';
import type { PipelineDocument } from './pipelines-shape.ts';

/** What changed between two lists of pipelines. */
export function diffPipelines(
  before: readonly PipelineDocument[],
  after: readonly PipelineDocument[],
): readonly PlanChange[] {
  return diffList(before, after, { path: 'pipelines', noun: 'pipeline' }, diffPipeline);
}

function diffPipeline(before: PipelineDocument, after: PipelineDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  return [
    ...changed(path, `pipeline “${before.title}” has another title`, before.title, title),
    ...changed(path, `“${title}” is entered by other events`, before.when, after.when),
    ...diffSteps(before.steps, after.steps, path, title),
    ...changed(path, `“${title}” has other tests`, testsOf(before), testsOf(after)),
    ...diffTests(before, after, path),
  ];
}

function testsOf({ tests = [] }: PipelineDocument): string {
  return tests.map(({ name }) => name).join(', ');
}

/** Tests of the same name that take in or expect something else. */
function diffTests(before: PipelineDocument, after: PipelineDocument, path: string): readonly PlanChange[] {
  return (after.tests ?? []).flatMap(({ name, ...test }) => {
    const old = (before.tests ?? []).find((other) => other.name === name);
    if (!old) return [];
    const { name: _, ...content } = old;
    if (isSame(content, test)) return [];
    return changed(
      path,
      `test “${name}” of “${after.title}” is another`,
      JSON.stringify(content),
      JSON.stringify(test),
    );
  });
}

/** Steps have no ids: equal ones are matched from both ends, and those between were changed. */
function diffSteps(
  before: readonly StepDocument[],
  after: readonly StepDocument[],
  path: string,
  title: string,
): readonly PlanChange[] {
  const [start, end] = equalEnds(before.map(textOf), after.map(textOf));
  const old = before.slice(start, before.length - end);
  const fresh = after.slice(start, after.length - end);
  return Array.from({ length: Math.max(old.length, fresh.length) }, (_, i) =>
    diffStep(old[i], fresh[i], path, `step ${start + i + 1} of “${title}”`),
  ).flat();
}

/** How many texts are the same at the beginning of two lists, and at the end of what is left. */
function equalEnds(before: readonly string[], after: readonly string[]): readonly [number, number] {
  const shorter = Math.min(before.length, after.length);
  let start = 0;
  while (start < shorter && before[start] === after[start]) start++;
  let end = 0;
  while (end < shorter - start && before[before.length - 1 - end] === after[after.length - 1 - end]) end++;
  return [start, end];
}

function diffStep(
  before: StepDocument | undefined,
  after: StepDocument | undefined,
  path: string,
  name: string,
): readonly PlanChange[] {
  if (!after) return before ? [{ kind: 'removed', path, text: `${name} is taken out: ${describeStep(before)}` }] : [];
  if (!before) return [{ kind: 'added', path, text: `${name} is new: ${describeStep(after)}` }];
  const text = `${name} is changed: ${describeStep(after)}`;
  return [{ kind: 'changed', path, text, before: settingsOf(before), after: settingsOf(after) }];
}

function textOf(step: StepDocument): string {
  return JSON.stringify(step);
}

/** A step's settings, one a line; of several templates each has its own. */
function settingsOf(step: StepDocument): string {
  const { options, when, onFailure } = stepParts(step);
  const lines = Object.entries(options).flatMap(([name, value]) => {
    if (Array.isArray(value)) return value.map((item) => `${name}: ${item}`);
    return [`${name}: ${typeof value === 'string' ? value : JSON.stringify(value)}`];
  });
  return [...lines, ...(when === '' ? [] : [`when: ${when}`]), `on-failure: ${onFailure}`].join('\n');
}
