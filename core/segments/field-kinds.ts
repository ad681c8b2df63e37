import type { SegmentHeader } from './header.ts';

/** What the values of a field are; `mixed` where some are of one kind and some of another. */
export type FieldKind = 'number' | 'text' | 'flag' | 'mixed';

const kinds: ReadonlySet<string> = new Set<FieldKind>(['number', 'text', 'flag']);

/** A field, and how many events have it. */
export interface KnownField {
  readonly kind: FieldKind;
  readonly events: number;
  /** The range of its values if all are known to be integers. */
  readonly whole?: WholeRange | undefined;
}

/** The range of some integers. */
export interface WholeRange {
  readonly low: number;
  readonly high: number;
}

/** Adds the fields that the events of a segment have; false where they are not known. */
export function addKnownFields(fields: Map<string, KnownField>, header: SegmentHeader | undefined): boolean {
  for (const [column, { rows, range }] of header?.statistics?.columns ?? []) {
    const colon = column.indexOf(':');
    const kind = column.slice(0, Math.max(0, colon));
    if (isKind(kind))
      addKnownField(fields, column.slice(colon + 1), { kind, events: rows, whole: range?.whole && range });
  }
  return header?.statistics !== undefined;
}

/** Adds a field; one that is known with another kind is mixed. */
export function addKnownField(fields: Map<string, KnownField>, name: string, field: KnownField): void {
  const before = fields.get(name);
  fields.set(name, before ? bothFields(before, field) : field);
}

function bothFields(one: KnownField, other: KnownField): KnownField {
  const events = one.events + other.events;
  if (one.kind !== other.kind) return { kind: 'mixed', events };
  return { kind: one.kind, events, whole: one.whole && other.whole && bothRanges(one.whole, other.whole) };
}

function bothRanges(one: WholeRange, other: WholeRange): WholeRange {
  return { low: Math.min(one.low, other.low), high: Math.max(one.high, other.high) };
}

function isKind(text: string): text is FieldKind {
  return kinds.has(text);
}
