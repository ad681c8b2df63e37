import type { EventBatch } from '../events/batch.ts';
import type { WholeRange } from '../segments/field-kinds.ts';
import {
  attributeCells,
  bodyCells,
  type Cell,
  type Cells,
  cellAt,
  type ExportRows,
  numberCells,
  sameCells,
  severityCells,
  textCells,
} from './cells.ts';
import type { ExportField, ExportFields } from './export-format.ts';

/** A column of a table of events. */
export interface ExportColumn {
  readonly name: string;
  readonly kind: ExportField['kind'] | 'time';
  /** The range of its numbers if all are integers. */
  readonly whole?: ExportField['whole'];
  /** Its cells; undefined where none of the events has a value. */
  readonly cells: (of: ExportRows) => Cells | undefined;
}

/** Record sizes fit into signed 32-bit integers. */
const sizes: WholeRange = { low: 0, high: 2 ** 31 - 1 };

/** What every event may have besides its attributes. Times are in milliseconds. */
const fixed: readonly ExportColumn[] = [
  { name: 'time', kind: 'time', cells: ({ batch, rows }) => numberCells(batch.time, rows) },
  { name: 'received', kind: 'time', cells: ({ batch, rows }) => numberCells(batch.received, rows) },
  { name: 'source', kind: 'text', cells: (of) => sameCells(of.batch.source, of) },
  { name: 'emitter', kind: 'text', cells: ({ batch, rows }) => textCells(batch.emitter, rows) },
  { name: 'tier', kind: 'text', cells: (of) => sameCells(of.tier, of) },
  { name: 'severity', kind: 'text', cells: severityCells },
  { name: 'weight', kind: 'number', cells: ({ batch, rows }) => numberCells(batch.weight, rows) },
  { name: 'raw_bytes', kind: 'number', whole: sizes, cells: ({ batch, rows }) => numberCells(batch.size, rows, 0) },
  { name: 'body', kind: 'text', cells: bodyCells },
];

/** Most columns for fields; what fields there are beyond these stands together in one, as JSON. */
export const mostFieldColumns = 500;

/** The name of that column. */
export const otherFields = 'other_fields';

/**
 * The columns of a table of events: what every event has, then a column for each of the fields, and one for all others where there are
 * any. A field whose name is taken, in any case, is called `field.` and its name.
 */
export function exportColumns({ shown, others }: ExportFields): readonly ExportColumn[] {
  const taken = new Set(fixed.map(({ name }) => name));
  const columns = shown.map(({ name: given, kind, whole }): ExportColumn => {
    const name = freeName(given, taken);
    return { name, kind, whole, cells: ({ batch, rows }) => attributeCells(batch.attributes.get(given), rows) };
  });
  if (others.length === 0) return [...fixed, ...columns];
  const rest = new Set(others);
  const name = freeName(otherFields, taken);
  return [...fixed, ...columns, { name, kind: 'text', cells: (of) => jsonOfOthers(of, rest) }];
}

/** A name that no column has in any case yet, which has it then. */
function freeName(given: string, taken: Set<string>): string {
  let name = given;
  while (taken.has(name.toLowerCase())) name = `field.${name}`;
  taken.add(name.toLowerCase());
  return name;
}

/** What each event has of some fields, as the text of a JSON object. */
function jsonOfOthers({ batch, rows }: ExportRows, names: ReadonlySet<string>): Cells | undefined {
  const columns = cellsOfAttributes(batch, rows, (name) => names.has(name));
  if (columns.length === 0) return undefined;
  return {
    values: Array.from(rows, (_, n) => {
      const object: Record<string, Cell> = {};
      let isEmpty = true;
      for (const { name, cells } of columns) {
        const value = cellAt(cells, n);
        if (value === undefined) continue;
        object[name] = value;
        isEmpty = false;
      }
      return isEmpty ? undefined : JSON.stringify(object);
    }),
  };
}

/** The attributes of a batch that some of its rows have, with their cells. */
export function cellsOfAttributes(
  batch: EventBatch,
  rows: Int32Array,
  isWanted: (name: string) => boolean = () => true,
): readonly { readonly name: string; readonly cells: Cells }[] {
  return [...batch.attributes].flatMap(([name, columns]) => {
    const cells = isWanted(name) ? attributeCells(columns, rows) : undefined;
    return cells ? [{ name, cells }] : [];
  });
}
