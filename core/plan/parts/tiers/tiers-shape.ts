import { array, mixed, object, string } from 'yup';
import type { DocumentOf } from '../../../input/document-of.ts';
import { isObject } from '../../../input/is-object.ts';
import type { SchemaMeta } from '../../../input/json-schema.ts';
import { longest } from '../limits.ts';
import { idShape, titleShape } from '../shape-parts.ts';

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

/** A day's allowance of a tier, and what becomes of events past it. */
const capShape = object({
  /** `2 GB` of events as they arrived, or `500000 events`. */
  day: string().required().max(longest.amount),
  /** The time zone whose days are meant, by its IANA name; absent: UTC. */
  zone: string().max(longest.name),
  over: mixed<CapOverflow>((value): value is CapOverflow => isOverflow(value))
    .required('say what becomes of what is over: passing, sample, refuse, or tier: and the id of one further down')
    .typeError('over is passing, sample, refuse, or tier: and the id of one further down')
    .meta(overflow),
})
  .noUnknown()
  .optional()
  .default(undefined);

export type CapDocument = NonNullable<DocumentOf<typeof capShape>>;

const exclusionShape = object({
  id: idShape,
  title: titleShape,
  when: string().required().max(longest.condition),
  /** `none`, `all`, or `1 in 50`. */
  keep: string().required().max(longest.amount),
  /** With `1 in n`: keep or leave out together all events that share this field's value. */
  by: string().max(longest.field),
  /** When it ends (ISO 8601); from then on it is as if it were not there. Absent: it stays. */
  until: string().max(40),
  /** Why it is there, and whom to ask. */
  reason: string().max(longest.reason),
  owner: string().max(longest.name),
}).noUnknown();

export type ExclusionDocument = DocumentOf<typeof exclusionShape>;

const tierShape = object({
  id: idShape,
  title: titleShape,
  /** Which events it takes; absent: every event that comes this far. */
  when: string().max(longest.condition),
  /** How long it keeps them: `30d`. */
  keep: string().required().max(longest.amount),
  exclusions: array(exclusionShape).max(200),
  /** What it may keep in a day; absent: as much as comes. */
  cap: capShape,
}).noUnknown();

export type TierDocument = DocumentOf<typeof tierShape>;

/** Tiers, in the order in which they are offered events. */
export const tiersShape = array(tierShape).max(50).default([]);

function isOverflow(value: unknown): boolean {
  if (typeof value === 'string') return overflowChoices.some((choice) => choice === value);
  return isObject(value) && Object.keys(value).join() === 'tier' && typeof Object.values(value)[0] === 'string';
}
