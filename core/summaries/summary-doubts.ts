import type { Doubt } from '../conditions/doubts.ts';
import { nearest } from '../patterns/nearest.ts';
import { type Summary, summaryFields } from './summary.ts';

/** The fields of a summary that no event has, where they stand in its text, each with the nearest name that exists. */
export function summaryDoubts(summary: Summary, fields: readonly string[]): readonly Doubt[] {
  const known = new Set(fields.map((field) => field.toLowerCase()));
  return summaryFields(summary)
    .filter((field) => !known.has(field.toLowerCase()))
    .map((field) => {
      const start = placeOf(field, summary.text);
      const suggestion = nearest(field, fields);
      return {
        message: `no event has a field ${field}`,
        start,
        end: start + field.length,
        ...(suggestion && { suggestion }),
      };
    });
}

/** Where a name is by itself: neither in another name nor as a function. */
function placeOf(field: string, text: string): number {
  const name = field.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');
  const place = text.search(new RegExp(`(?<![\\w.@-])${name}(?![\\w.@-]|\\s*\\()`));
  return Math.max(0, place);
}
