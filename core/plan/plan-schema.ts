import { type JsonSchema, jsonSchemaOf } from '../input/json-schema.ts';
import { stepKinds } from '../steps/index.ts';
import type { StepKind } from '../steps/step.ts';
import { onFailures } from '../steps/step-document.ts';
import { planShape } from './document.ts';

/** The JSON Schema (draft 2020-12) of a plan, with what each kind of step does: editors complete and check plans with it. */
export function planSchema(): JsonSchema {
  return {
    $schema: 'https://json-schema.org/draft/2020-12/schema',
    title: 'Plan',
    description: 'What is done with events: pipelines of steps in order, then tiers that keep them.',
    ...jsonSchemaOf(planShape),
    $defs: { step: { oneOf: [...stepKinds.values()].map(stepSchema) } },
  };
}

function stepSchema({ kind, title, help, schema }: StepKind): JsonSchema {
  return {
    type: 'object',
    title,
    description: help,
    properties: {
      [kind]: jsonSchemaOf(schema),
      when: { type: 'string', description: 'Only events that meet this condition.' },
      'on-failure': {
        enum: onFailures,
        default: 'keep',
        description: 'What happens to an event that the step cannot handle.',
      },
    },
    required: [kind],
    additionalProperties: false,
  };
}
