import type { AnyObject, ObjectSchema, Schema, SchemaFieldDescription } from 'yup';

/** A JSON Schema (draft 2020-12), or a part of one. */
export type JsonSchema = Readonly<Record<string, unknown>>;

/** What a shape says of itself in JSON Schema, where its checks are code: put into its `meta`. */
export interface SchemaMeta {
  readonly jsonSchema: JsonSchema;
}

/** The JSON Schema of what a Yup schema takes; checks that are code are left out. */
export function jsonSchemaOf(schema: Schema): JsonSchema {
  return convert(schema.describe());
}

/** The fields of an object that a Yup schema takes, each with its JSON Schema. */
export function jsonSchemaFields(
  schema: ObjectSchema<AnyObject>,
): readonly { readonly name: string; readonly required: boolean; readonly schema: JsonSchema }[] {
  return Object.entries(schema.describe().fields).map(([name, field]) => ({
    name,
    required: isRequired(field),
    schema: convert(field),
  }));
}

function convert(field: SchemaFieldDescription): JsonSchema {
  const meta = 'meta' in field ? (field.meta as SchemaMeta | undefined) : undefined;
  if (meta) return meta.jsonSchema;
  const start = field.type === 'mixed' || field.type === 'lazy' ? {} : { type: field.type };
  const choices = 'oneOf' in field && field.oneOf.length > 0 ? { enum: field.oneOf } : {};
  return { ...start, ...choices, ...defaultOf(field), ...partsOf(field), ...limitsOf(field) };
}

/** Defaults of objects are those of their parts. */
function defaultOf(field: SchemaFieldDescription): JsonSchema {
  return 'default' in field && field.default !== undefined && field.type !== 'object' ? { default: field.default } : {};
}

function partsOf(field: SchemaFieldDescription): JsonSchema {
  if ('innerType' in field && field.innerType && !Array.isArray(field.innerType))
    return { items: convert(field.innerType as SchemaFieldDescription) };
  if (!('fields' in field)) return {};
  const fields = Object.entries(field.fields);
  const required = fields.filter(([, part]) => isRequired(part)).map(([name]) => name);
  return {
    properties: Object.fromEntries(fields.map(([name, part]) => [name, convert(part)])),
    ...(required.length > 0 && { required }),
  };
}

function isRequired(field: SchemaFieldDescription): boolean {
  return 'optional' in field && !field.optional && (field.type === 'object' || field.default === undefined);
}

/** The names of limits in JSON Schema, by type and test. */
const limits: Readonly<Record<string, Readonly<Record<string, string>>>> = {
  string: { min: 'minLength', max: 'maxLength' },
  number: { min: 'minimum', max: 'maximum' },
  array: { min: 'minItems', max: 'maxItems' },
};

function limitsOf(field: SchemaFieldDescription): JsonSchema {
  const tests = 'tests' in field ? field.tests : [];
  return Object.assign({}, ...tests.map(({ name = '', params }) => limitOf(field.type, name, params)));
}

function limitOf(type: string, name: string, params: Readonly<Record<string, unknown>> | undefined): JsonSchema {
  const limit = limits[type]?.[name];
  if (limit) return { [limit]: params?.[name] };
  if (name === 'matches' && params?.regex instanceof RegExp) return { pattern: params.regex.source };
  if (name === 'integer') return { type: 'integer' };
  if (name === 'noUnknown') return { additionalProperties: false };
  if (name === 'required' && type === 'string') return { minLength: 1 };
  return {};
}
