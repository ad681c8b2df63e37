import type { SegmentHeader } from './header.ts';

/** What the values of a field are; `mixed` where some are of one kind and some of another. */
export type FieldKind = 'number' | 'text' | 'flag' | 'mixed';

const kinds: ReadonlySet<string> = new Set<FieldKind>(['number', 'text', 'flag']);

/** A field, and how many events have it. */
export interface KnownField {
  readonly kind: FieldKind;
  readonly events: number;
}

/** Adds the fields that the events of a segment have; false where they are not known. */
export function addKnownFields(fields: Map<string, KnownField>, header: SegmentHeader | undefined): boolean {
  for (const [column, { rows }] of header?.statistics?.columns ?? []) {
    const colon = column.indexOf(':');
    const kind = column.slice(0, Math.max(0, colon));
    if (isKind(kind)) addKnownField(fields, column.slice(colon + 1), { kind, events: rows });
  }
  return header?.statistics !== undefined;
}

/** Adds a field; one that is known with another kind is mixed. */
export function addKnownField(fields: Map<string, KnownField>, name: string, { kind, events }: KnownField): void {
  const before = fields.get(name);
  const same = before === undefined || before.kind === kind;
  fields.set(name, { kind: same ? kind : 'mixed', events: (before?.events ?? 0) + events });
}

function isKind(text: string): text is FieldKind {
  return kinds.has(text);
}
