import { array, number, object, string } from 'yup';
import { highestLimit, metricName, mostKeys } from '../../../metrics/limits.ts';
import { measures } from '../../../metrics/measures/index.ts';
import { longest } from '../limits.ts';
import { idShape } from '../shape-parts.ts';

/** What may be shown where nothing came: nothing, 0, or the last value. */
export const emptyValues = ['none', 'zero', 'last'] as const;
export type EmptyValue = (typeof emptyValues)[number];

/** A field that a metric is kept by: its values as they are, its most frequent ones, or what a table has for them. */
const keyShape = object({
  field: string().required().max(longest.field),
  top: number().integer().min(1).max(1_000),
  table: string().max(longest.name),
  column: string().max(longest.field),
}).noUnknown();

/** Metrics. */
export const metricsShape = array(
  object({
    id: idShape,
    name: string()
      .required()
      .max(255)
      .matches(
        metricName,
        'the name of a metric begins with a letter and goes on with letters, digits, and the signs _ . - /',
      ),
    help: string().max(longest.reason),
    when: string().defined().max(longest.condition),
    measure: string()
      .oneOf([...measures.keys()])
      .required(),
    of: string().max(longest.field),
    by: array(keyShape).max(mostKeys),
    unit: string()
      .max(63)
      .matches(/^[\x20-\x7e]*$/, 'a unit is written in ASCII, as UCUM has it: s, By, 1'),
    empty: string().oneOf(emptyValues),
    limit: number().integer().min(1).max(highestLimit),
    keep: string().max(longest.amount),
  }).noUnknown(),
).max(100);
