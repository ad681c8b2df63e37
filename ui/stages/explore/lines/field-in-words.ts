import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';

/** A field and its content, for lists: `status · 7 values`, `took · duration`. */
export function fieldInWords(field: FieldSummary): string {
  const { name, range } = field;
  return `${name} · ${range ? (range.unit === 'none' ? 'number' : range.unit) : valuesInWords(field)}`;
}

/** How many different values a field has: `7 values`, `many values`. */
export function valuesInWords({ many, distinct }: FieldSummary): string {
  return many ? 'many values' : `${formatCount(distinct)} ${distinct === 1 ? 'value' : 'values'}`;
}
