import { stepParts } from '../../../steps/step-document.ts';
import type { PlanDocument } from '../../document.ts';
import { type FieldUses, joinUses, readByCondition } from '../../field-use.ts';
import { checkCondition, checkIds, type PlanProblem } from '../../plan-problem.ts';
import { itemAt, nameOf, numberAt } from '../named-item.ts';
import type { PathInPart, PlanPart, PlanPlace } from '../part.ts';
import { checkStep } from './check-step.ts';
import { diffPipelines } from './diff-pipelines.ts';
import type { PipelineDocument } from './pipelines-shape.ts';
import { fieldUsesOfStep } from './step-fields.ts';

/** Pipelines of steps, which events run through in order. */
export const pipelines: PlanPart = {
  key: 'pipelines',
  noun: 'pipeline',
  items: ({ pipelines: all }) => all,
  check: (plan) => [...checkIds(plan.pipelines, 'pipelines'), ...plan.pipelines.flatMap(checkPipeline)],
  diff: (before, after) => diffPipelines(before.pipelines, after.pipelines),
  place: placeInPipeline,
  fieldUses: (plan) => joinUses(plan.pipelines.map(fieldUsesOfPipeline)),
  readers: (plan) => plan.pipelines.map(({ title, when }) => ({ kind: 'pipeline', name: title, condition: when })),
};

function checkPipeline({ when, steps }: PipelineDocument, i: number): readonly PlanProblem[] {
  const path = `pipelines[${i}]`;
  return [
    ...checkCondition(when, `${path}.when`),
    ...steps.flatMap((step, k) => checkStep(step, `${path}.steps[${k}]`)),
  ];
}

function placeInPipeline(plan: PlanDocument, path: PathInPart): PlanPlace {
  const pipeline = itemAt(plan.pipelines, path);
  const whole = `Pipeline “${nameOf(pipeline, path.item)}”`;
  const [part, which, ...inside] = path.rest;
  const thing = pipeline && { part: 'pipelines' as const, id: pipeline.id };
  if (part !== 'steps' || which === undefined)
    return {
      words: [whole, ...path.rest].join(', '),
      ...(thing && { item: { ...thing, ...(part !== undefined && { field: part }) } }),
    };
  const number = numberAt(which, path.isCounted);
  const step = pipeline?.steps[number - 1];
  const kind = step && stepParts(step).kind;
  const [field, ...deeper] = inside.filter((name) => name !== kind);
  return {
    words: [
      whole,
      `step ${number}${kind ? ` (${kind})` : ''}`,
      ...(field === undefined ? [] : [field]),
      ...deeper,
    ].join(', '),
    ...(thing && { item: { ...thing, step: number, ...(field !== undefined && { field }) } }),
  };
}

function fieldUsesOfPipeline({ id, title, when, steps }: PipelineDocument): FieldUses {
  const uses = steps.map((step, index) => {
    const number = index + 1;
    return fieldUsesOfStep(step, {
      ...{ at: `${id}/${number}`, title: `step ${number} of “${title}”` },
      ...{ pipeline: id, step: number },
    });
  });
  const entry = readByCondition(when, { at: id, title: `entry of “${title}”`, pipeline: id });
  return joinUses([{ makers: [], readers: entry }, ...uses]);
}
