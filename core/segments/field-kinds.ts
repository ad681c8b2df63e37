import type { SegmentHeader } from './header.ts';

/** What the values of a field are; `mixed` where some are of one kind and some of another. */
export type FieldKind = 'number' | 'text' | 'flag' | 'mixed';

const kinds: ReadonlySet<string> = new Set<FieldKind>(['number', 'text', 'flag']);

/** Adds the fields that the events of a segment have; false where they are not known. */
export function addFieldKinds(fields: Map<string, FieldKind>, header: SegmentHeader | undefined): boolean {
  for (const column of header?.statistics?.columns.keys() ?? []) {
    const colon = column.indexOf(':');
    const kind = column.slice(0, Math.max(0, colon));
    if (isKind(kind)) addFieldKind(fields, column.slice(colon + 1), kind);
  }
  return header?.statistics !== undefined;
}

/** Adds a field; one that is known with another kind is mixed. */
export function addFieldKind(fields: Map<string, FieldKind>, name: string, kind: FieldKind): void {
  const before = fields.get(name);
  fields.set(name, before === undefined || before === kind ? kind : 'mixed');
}

function isKind(text: string): text is FieldKind {
  return kinds.has(text);
}
