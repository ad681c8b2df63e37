import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';

/** A field with what it holds, as lists to choose from show it: `status · 7 values`, `took · duration`. */
export function fieldInWords({ name, range, many, distinct }: FieldSummary): string {
  if (range) return `${name} · ${range.unit === 'none' ? 'number' : range.unit}`;
  if (many) return `${name} · many values`;
  return `${name} · ${formatCount(distinct)} ${distinct === 1 ? 'value' : 'values'}`;
}
