import { ValidationError } from 'yup';
import { nearest } from '../../../patterns/nearest.ts';
import { stepKinds } from '../../../steps/index.ts';
import type { StepKind } from '../../../steps/step.ts';
import { besides, onFailures, type StepDocument, stepParts } from '../../../steps/step-document.ts';
import { checkCondition, type PlanProblem, problemIf } from '../../plan-problem.ts';

/** What is wrong with a step and the steps of its branches; `path` is where it is. */
export function checkStep(step: StepDocument, path: string): readonly PlanProblem[] {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known) {
    const suggestion = nearest(kind, [...stepKinds.keys()]);
    const hint = suggestion ? `; did you mean ${suggestion}?` : '';
    return [{ path, message: kind === '' ? 'the step says not what it does' : `there is no step ${kind}${hint}` }];
  }
  return [
    ...checkCondition(when, `${path}.when`),
    ...checkBeside(step, path),
    ...checkNames(known, step, options, path),
    ...checkOptions(known, options, `${path}.${kind}`),
  ];
}

/** What is wrong with the options of a step of a known kind, and with the steps of its branches. */
function checkOptions({ schema, check, branches }: StepKind, options: object, path: string): readonly PlanProblem[] {
  try {
    const valid = schema.validateSync(options, { abortEarly: false });
    const found = check?.(valid) ?? [];
    const nested = (branches?.(valid) ?? []).flatMap((branch) => [
      ...checkCondition(branch.when ?? '', `${path}.${branch.path.replace(/steps$/, 'when')}`),
      ...branch.steps.flatMap((inner, i) => checkStep(inner, `${path}.${branch.path}[${i}]`)),
    ]);
    return [...found.map((problem) => ({ path: `${path}.${problem.path}`, message: problem.message })), ...nested];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return error.inner.map((fault) => ({ path: `${path}.${fault.path}`, message: fault.message }));
  }
}

/** What is beside a step's kind: what cannot be read would otherwise be ignored, and the step do more than is meant. */
function checkBeside(step: StepDocument, path: string): readonly PlanProblem[] {
  const { when = '', 'on-failure': onFailure = 'keep' } = step;
  return [
    ...problemIf(typeof when !== 'string', `${path}.when`, 'a guard is a condition, written as a text'),
    ...problemIf(
      !onFailures.some((choice) => choice === onFailure),
      `${path}.on-failure`,
      `on-failure is ${onFailures.join(', ')}, not ${String(onFailure)}`,
    ),
  ];
}

/** Names that mean nothing in a step or its options: a slip of the pen would otherwise change what the step does, unseen. */
function checkNames(
  { kind, schema }: StepKind,
  step: StepDocument,
  options: object,
  path: string,
): readonly PlanProblem[] {
  const described = schema.describe();
  const fields = 'fields' in described ? described.fields : undefined;
  const known = typeof fields === 'object' && fields !== null ? Object.keys(fields) : [];
  return [
    ...Object.keys(step)
      .filter((name) => name !== kind && !besides.has(name))
      .map((name) => ({
        path: `${path}.${name}`,
        message: `a step does one thing, and this one does ${kind} already`,
      })),
    ...Object.keys(options)
      .filter((name) => !known.includes(name))
      .map((name) => {
        const suggestion = nearest(name, known);
        const hint = suggestion ? `; did you mean ${suggestion}?` : '';
        return { path: `${path}.${kind}.${name}`, message: `${kind} has no option ${name}${hint}` };
      }),
  ];
}
