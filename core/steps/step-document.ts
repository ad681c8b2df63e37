import { mixed } from 'yup';
import { isObject } from '../input/is-object.ts';
import type { SchemaMeta } from '../input/json-schema.ts';

/** A step as it is written: its kind as a key with the kind's options, and beside it `when` and `on-failure`. */
export type StepDocument = Readonly<Record<string, unknown>>;

const aStep: SchemaMeta = { jsonSchema: { $ref: '#/$defs/step' } };

/** A step as it is written; its kind says what its options may be. */
export const stepShape = mixed<StepDocument>((value): value is StepDocument => isObject(value)).meta(aStep);

/** What may happen to an event that a step cannot handle; it is kept where a step says nothing. */
export const onFailures = ['keep', 'reject', 'discard'] as const;
export type OnFailure = (typeof onFailures)[number];

/** A step taken apart. */
export interface StepParts {
  readonly kind: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly when: string;
  readonly onFailure: OnFailure;
}

/** What may stand in a step beside what it does. */
export const besides: ReadonlySet<string> = new Set(['when', 'on-failure']);

/** The parts of a step; `kind` is empty when the step names none. */
export function stepParts(step: StepDocument): StepParts {
  const kind = Object.keys(step).find((key) => !besides.has(key)) ?? '';
  const options = step[kind];
  return {
    kind,
    options: typeof options === 'object' && options !== null ? (options as Readonly<Record<string, unknown>>) : {},
    when: typeof step.when === 'string' ? step.when : '',
    onFailure: onFailures.find((choice) => choice === step['on-failure']) ?? 'keep',
  };
}

/** A step put together again; parts at their defaults are left out. */
export function stepDocument(parts: StepParts): StepDocument {
  return {
    [parts.kind]: parts.options,
    ...(parts.when !== '' && { when: parts.when }),
    ...(parts.onFailure !== 'keep' && { 'on-failure': parts.onFailure }),
  };
}
