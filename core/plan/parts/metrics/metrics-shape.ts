import { array, number, object, string } from 'yup';
import type { DocumentOf } from '../../../input/document-of.ts';
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
  /** Only so many values, those that come most; the others are one. */
  top: number().integer().min(1).max(1_000),
  /** A lookup table, and its column that is taken instead of the value. */
  table: string().max(longest.name),
  column: string().max(longest.field),
}).noUnknown();

export type MetricKey = DocumentOf<typeof keyShape>;

/** A derived metric: what is kept of which events, by which keys. */
const metricShape = object({
  id: idShape,
  /** As others are to know it, by the rules of OpenTelemetry for instruments: `booking.requests`. */
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
  /** Up to four keys: a series is kept for each combination of their values. */
  by: array(keyShape).max(mostKeys),
  /** The unit, such as `s` or `By` (UCUM); absent: none. */
  unit: string()
    .max(63)
    .matches(/^[\x20-\x7e]*$/, 'a unit is written in ASCII, as UCUM has it: s, By, 1'),
  /** What is shown where nothing came; absent: nothing. */
  empty: string().oneOf(emptyValues),
  /** Most series; what is beyond them goes into one. Absent: 1,000. */
  limit: number().integer().min(1).max(highestLimit),
  /** How long it is kept by the hour; absent: `456d`. */
  keep: string().max(longest.amount),
}).noUnknown();

export type MetricDocument = DocumentOf<typeof metricShape>;

/** Numbers that are kept of events as they arrive, whatever becomes of them. */
export const metricsShape = array(metricShape).max(100);
