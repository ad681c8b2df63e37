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
  /** Only this many values, the most frequent ones; all others are one. */
  top: number().integer().min(1).max(1_000),
  /** A lookup table, and its column that is taken instead of the value. */
  table: string().max(longest.name),
  column: string().max(longest.field),
}).noUnknown();

/** Metrics. */
export const metricsShape = array(
  object({
    id: idShape,
    /** As others know it, by the rules of OpenTelemetry for instruments: `booking.requests`. */
    name: string()
      .required()
      .max(255)
      .matches(
        metricName,
        'the name of a metric begins with a letter and goes on with letters, digits, and the signs _ . - /',
      ),
    /** What it is for. */
    help: string().max(longest.reason),
    /** Which events; empty: all. */
    when: string().defined().max(longest.condition),
    /** What is kept of them: a measure (`core/metrics/measures`). */
    measure: string()
      .oneOf([...measures.keys()])
      .required(),
    /** The field that is measured; absent where events themselves are. */
    of: string().max(longest.field),
    /** A series is kept for each combination of the values of its keys. */
    by: array(keyShape).max(mostKeys),
    /** The unit, such as `s` or `By` (UCUM); absent: none. */
    unit: string()
      .max(63)
      .matches(/^[\x20-\x7e]*$/, 'a unit is written in ASCII, as UCUM has it: s, By, 1'),
    /** Absent: nothing is shown where nothing came. */
    empty: string().oneOf(emptyValues),
    /** Most series; all beyond are one. Absent: 1,000. */
    limit: number().integer().min(1).max(highestLimit),
    /** How long it is kept by the hour; absent: `456d`. */
    keep: string().max(longest.amount),
  }).noUnknown(),
).max(100);
