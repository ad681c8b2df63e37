import { array, type InferType, number, object, string } from 'yup';
import { compileCondition } from '#core/conditions/condition.ts';
import { parseDuration } from '#core/events/units.ts';
import { highestLimit, metricName, mostKeys, usualLimit } from '#core/metrics/limits.ts';
import { measures } from '#core/metrics/measures/index.ts';
import type { MetricDocument, MetricKey } from '#core/plan/parts/metrics/metrics-shape.ts';
import { emptyValues } from '#core/plan/parts/metrics/metrics-shape.ts';

/** A metric as it is filled in: what is left open is empty. */
export type MetricFields = InferType<ReturnType<typeof metricShape>>;

/** A key as it is filled in. */
export type KeyFields = MetricFields['by'][number];

/** The fields of a metric, or of one that is begun with some of them. */
export function metricFields(metric: Partial<MetricDocument>): MetricFields {
  const { name = '', when = '', measure = 'count', of = '', unit = '', help = '', empty = 'none', keep = '' } = metric;
  const by = (metric.by ?? []).map(keyFields);
  return { ...{ name, when, measure, of, by, unit, help, empty, keep }, limit: String(metric.limit ?? usualLimit) };
}

/** A key as it is filled in. */
export function keyFields({ field, top, table = '', column = '' }: MetricKey): KeyFields {
  return { field, top: top === undefined ? '' : String(top), table, column };
}

/** The metric that was filled in; what is at its default is left out. */
export function metricOf(id: string, fields: MetricFields): MetricDocument {
  const { name, when, measure, of, by, unit, help, empty, limit, keep } = fields;
  const needsField = measures.get(measure)?.field !== 'none';
  const choice = emptyValues.find((value) => value === empty);
  return {
    ...{ id, name: name.trim(), when, measure },
    ...(help.trim() && { help: help.trim() }),
    ...(needsField && { of: of.trim() }),
    ...(by.length > 0 && { by: by.map(keyOf) }),
    ...(unit.trim() && { unit: unit.trim() }),
    ...(choice && choice !== 'none' && { empty: choice }),
    ...(Number(limit) !== usualLimit && { limit: Number(limit) }),
    ...(keep.trim() && { keep: keep.trim() }),
  };
}

function keyOf({ field, top, table, column }: KeyFields): MetricKey {
  return {
    field: field.trim(),
    ...(top !== '' && { top: Number(top) }),
    ...(table !== '' && { table, column }),
  };
}

/** What is asked of a metric; `others` are the names of the other metrics of the plan. */
export function metricShape(others: readonly string[]) {
  return object({
    name: string()
      .trim()
      .required('Enter a name, such as booking.requests.')
      .max(255)
      .matches(metricName, 'A name starts with a letter, followed by letters, digits and _ . - /')
      .test('new', 'Another metric has this name.', (name) => !others.includes((name ?? '').trim().toLowerCase())),
    when: string()
      .defined()
      .max(20_000)
      .test('condition', 'Fix the condition.', (text) => compileCondition(text ?? '').ok),
    measure: string().required(),
    of: string()
      .defined()
      .max(256)
      .when('measure', ([measure], field) =>
        measures.get(String(measure))?.field === 'none' ? field : field.trim().required('Choose a field.'),
      ),
    by: array(
      object({
        field: string().trim().required('Choose a field for each key.').max(256),
        top: string()
          .defined()
          .matches(/^([1-9]\d{0,2}|1000)?$/, 'A top is a number from 1 to 1,000.'),
        table: string().defined(),
        column: string()
          .defined()
          .when('table', ([table], column) =>
            table === '' ? column : column.trim().required('Choose a column of the table.'),
          ),
      }),
    )
      .max(mostKeys)
      .required(),
    unit: string().defined().max(63),
    help: string().defined().max(500),
    empty: string().required(),
    limit: string()
      .required()
      .test('limit', `At most ${highestLimit.toLocaleString('en-US')} series.`, (text) =>
        number().integer().min(1).max(highestLimit).isValidSync(text),
      ),
    keep: string()
      .defined()
      .test('keep', 'A duration of a day or more, such as 456d.', (text) => {
        const keep = text === '' ? Number.POSITIVE_INFINITY : parseDuration(text ?? '');
        return keep !== undefined && keep >= 86_400_000;
      }),
  });
}

/** The metric as far as it can be tried, for which its name does not matter; undefined where it measures nothing yet. */
export function triedMetric(filled: MetricFields): MetricDocument | undefined {
  const measure = measures.get(filled.measure);
  if (!measure || (measure.field !== 'none' && filled.of.trim() === '')) return undefined;
  const by = filled.by.filter(
    ({ field, table, column }) => field.trim() !== '' && (table === '' || column.trim() !== ''),
  );
  return metricOf('tried', { ...filled, by, name: 'tried', help: '', limit: String(usualLimit), keep: '' });
}
