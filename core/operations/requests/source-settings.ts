import { array, boolean, number, object, string } from 'yup';
import { compileCondition } from '../../conditions/condition.ts';
import { joinRule } from '../../formats/join.ts';
import type { SchemaMeta } from '../../input/json-schema.ts';
import { maskRules } from '../../masks/mask.ts';
import { longest } from '../../plan/parts/limits.ts';
import { compileTemplate } from '../../templates/template.ts';

/** Kinds of sources, by how they send. */
export const sourceKinds = ['http', 'otlp', 'syslog', 'files', 'objects', 'upload'] as const;

const isTemplate = (text: string | undefined): boolean => !text || compileTemplate(text).ok;

/** What a source is set to beyond its name and kind. */
export const settingsShape = object({
  masks: maskRules,
  globs: array(
    string()
      .required()
      .max(500)
      .matches(/^\P{Cc}*$/u, 'a pattern holds no control characters'),
  ).max(20),
  join: joinRule.default(undefined),
  url: string()
    .matches(/^(https?|file):\/\//, 'an address begins with http://, https:// or file://')
    .max(1_000),
  path: string().max(500).test('template', 'the path is not a line template', isTemplate),
  retired: boolean(),
  expectedBack: number().min(0).max(8.64e15),
}).noUnknown();

const shortTexts: SchemaMeta = {
  jsonSchema: { type: 'object', additionalProperties: { type: 'string', maxLength: 200 } },
};

/** Labels: short names and values. */
export const labelsShape = object()
  .meta(shortTexts)
  .test('labels', 'labels are short texts', (value: unknown) =>
    typeof value === 'object' && value !== null
      ? Object.entries(value).every(
          ([key, text]) => /^[\w.-]{1,40}$/.test(key) && typeof text === 'string' && text.length <= 200,
        )
      : true,
  );

/** A condition that can be read. */
export const conditionShape = string()
  .max(longest.condition)
  .test(
    'condition',
    ({ value }) => conditionFault(String(value)) ?? '',
    (text) => !text || conditionFault(text) === undefined,
  );

function conditionFault(text: string): string | undefined {
  const compiled = compileCondition(text);
  return compiled.ok
    ? undefined
    : `the condition is wrong: ${compiled.problem.message} (character ${compiled.problem.start + 1})`;
}
