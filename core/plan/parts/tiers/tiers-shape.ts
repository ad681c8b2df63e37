import { array, mixed, object, string } from 'yup';
import type { SchemaMeta } from '../../json-schema.ts';
import { longest } from '../limits.ts';
import { idShape, isObject, titleShape } from '../shape-parts.ts';

/** What may happen to events past a cap, except that they go to a tier further down. */
export const overflowChoices = ['passing', 'sample', 'refuse'] as const;

/** What happens to events past a cap: they pass, are sampled or refused at intake, or go to a tier further down. */
export type CapOverflow = (typeof overflowChoices)[number] | { readonly tier: string };

const overflow: SchemaMeta = {
  jsonSchema: {
    description: 'What becomes of events past the cap.',
    oneOf: [
      { enum: overflowChoices },
      {
        type: 'object',
        properties: { tier: { type: 'string', description: 'A tier further down.' } },
        required: ['tier'],
        additionalProperties: false,
      },
    ],
  },
};

/** What a tier may keep in a day. */
const capShape = object({
  day: string().required().max(longest.amount),
  zone: string().max(longest.name),
  over: mixed<CapOverflow>((value): value is CapOverflow => isOverflow(value))
    .required('say what becomes of what is over: passing, sample, refuse, or tier: and the id of one further down')
    .typeError('over is passing, sample, refuse, or tier: and the id of one further down')
    .meta(overflow),
})
  .noUnknown()
  .default(undefined);

const exclusionShape = object({
  id: idShape,
  title: titleShape,
  when: string().required().max(longest.condition),
  keep: string().required().max(longest.amount),
  by: string().max(longest.field),
  until: string().max(40),
  reason: string().max(longest.reason),
  owner: string().max(longest.name),
}).noUnknown();

/** Tiers, in the order in which they are offered events. */
export const tiersShape = array(
  object({
    id: idShape,
    title: titleShape,
    when: string().max(longest.condition),
    keep: string().required().max(longest.amount),
    exclusions: array(exclusionShape).max(200),
    cap: capShape,
  }).noUnknown(),
)
  .max(50)
  .default([]);

function isOverflow(value: unknown): boolean {
  if (typeof value === 'string') return overflowChoices.some((choice) => choice === value);
  return isObject(value) && Object.keys(value).join() === 'tier' && typeof Object.values(value)[0] === 'string';
}
