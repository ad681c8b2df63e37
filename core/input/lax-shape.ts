import {
  type AnyObject,
  type AnySchema,
  ArraySchema,
  array,
  BooleanSchema,
  boolean,
  NumberSchema,
  number,
  type ObjectSchema,
  object,
  type Schema,
  StringSchema,
  string,
} from 'yup';

/** The longest text where the strict shape says nothing, in characters. */
const usualLength = 64;
/** Lists may be this many times as long as the strict shape allows. */
const spare = 2;

/**
 * The shape of something that is being written: objects, lists, texts, numbers and flags are where the strict shape has them, but texts
 * may be empty and need no form, numbers may be anything, and unknown names are left alone.
 */
export function laxShape(strict: ObjectSchema<AnyObject>): AnySchema {
  const fields = Object.entries(strict.fields).map(([name, field]) => [name, lax(field as Schema)]);
  const shape: ObjectSchema<AnyObject> = object(Object.fromEntries(fields));
  return strict.getDefault() === undefined ? shape.optional().default(undefined) : shape;
}

function lax(strict: Schema): AnySchema {
  if (strict instanceof StringSchema) {
    const text = string()
      .strict()
      .max(limitOf(strict, 'max') ?? usualLength);
    return isOptional(strict) ? text : text.defined();
  }
  if (strict instanceof NumberSchema) return isOptional(strict) ? number().strict() : strict;
  if (strict instanceof BooleanSchema) return boolean().strict();
  if (strict instanceof ArraySchema) {
    const list = array(lax(strict.innerType as Schema)).max(
      spare * (limitOf(strict, 'max') ?? Number.POSITIVE_INFINITY),
    );
    return isOptional(strict) && strict.getDefault() === undefined ? list : list.required();
  }
  return 'fields' in strict ? laxShape(strict as ObjectSchema<AnyObject>) : strict;
}

function isOptional(schema: Schema): boolean {
  const described = schema.describe();
  return 'optional' in described && described.optional;
}

/** What a test of a shape is set to: `max` of texts and lists. */
function limitOf(schema: Schema, name: string): number | undefined {
  const described = schema.describe();
  const tests = 'tests' in described ? described.tests : [];
  const limit: unknown = tests.find((test) => test.name === name)?.params?.[name];
  return typeof limit === 'number' ? limit : undefined;
}
