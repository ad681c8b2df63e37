import { severityWord } from '../events/severity.ts';
import type { StoredEvent } from '../search/found-event.ts';
import type { ExportField } from './export-format.ts';

/** A column of a table of events. */
export interface ExportColumn {
  readonly name: string;
  readonly kind: ExportField['kind'] | 'time';
  /** Its value in an event; undefined where the event has none. */
  readonly value: (event: StoredEvent) => string | number | boolean | undefined;
}

/** What every event may have besides its attributes. Times are in milliseconds. */
const fixed: readonly ExportColumn[] = [
  { name: 'time', kind: 'time', value: ({ time }) => time },
  { name: 'received', kind: 'time', value: ({ received }) => received },
  { name: 'source', kind: 'text', value: ({ source }) => source },
  { name: 'emitter', kind: 'text', value: ({ emitter }) => emitter || undefined },
  { name: 'tier', kind: 'text', value: ({ tier }) => tier },
  { name: 'severity', kind: 'text', value: ({ severity }) => severityWord(severity) },
  { name: 'weight', kind: 'number', value: ({ weight }) => weight },
  { name: 'raw_bytes', kind: 'number', value: ({ size }) => size || undefined },
  { name: 'body', kind: 'text', value: ({ body }) => body || undefined },
];

/**
 * The columns of a table of events: what every event has, then a column for each field. A field whose name is taken, in any
 * case, is called `field.` and its name.
 */
export function exportColumns(fields: readonly ExportField[]): readonly ExportColumn[] {
  const taken = new Set(fixed.map(({ name }) => name));
  const attributes = fields.map(({ name: given, kind }): ExportColumn => {
    let name = given;
    while (taken.has(name.toLowerCase())) name = `field.${name}`;
    taken.add(name.toLowerCase());
    return { name, kind, value: ({ attributes }) => attributes[given] };
  });
  return [...fixed, ...attributes];
}
