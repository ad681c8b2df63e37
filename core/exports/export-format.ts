import type { RowGroup } from 'hyparquet';
import type { FieldKind, WholeRange } from '../segments/field-kinds.ts';
import type { ExportRows } from './cells.ts';

/** An attribute that events may have. */
export interface ExportField {
  readonly name: string;
  /** `mixed` where its values are of different kinds. */
  readonly kind: FieldKind;
  /** The range of its values if all are integers. */
  readonly whole?: WholeRange | undefined;
}

/** All attributes that the events of an export may have. */
export interface ExportFields {
  /** Those that have a column of their own in a table, in its order. */
  readonly shown: readonly ExportField[];
  /** The names of all others. */
  readonly others: readonly string[];
}

/** Some events in a form, as a thread by itself writes them. */
export interface ExportPiece {
  readonly data: Uint8Array;
  /** Of a form that says at its end what is where: what is in the data, counted from its first byte. */
  readonly rowGroups?: readonly RowGroup[];
}

/** Puts the pieces of one export together, in the order in which they are asked for. */
export interface ExportJoiner {
  /** What is before the first event. */
  readonly head: () => string | Uint8Array;
  readonly add: (piece: ExportPiece) => Uint8Array;
  /** What is after the last one. */
  readonly tail: () => string | Uint8Array;
}

/** A form in which found events are written out. */
export interface ExportFormat {
  readonly name: string;
  readonly title: string;
  /** Its media type, and the ending of file names. */
  readonly type: string;
  readonly ending: string;
  readonly piece: (events: ExportRows, fields: ExportFields) => Promise<ExportPiece>;
  readonly joiner: (fields: ExportFields) => Promise<ExportJoiner>;
}

/** Joins pieces of text that follow each other as they are. */
export function joinTexts(head: string): ExportJoiner {
  return { head: () => head, add: ({ data }) => data, tail: () => '' };
}
