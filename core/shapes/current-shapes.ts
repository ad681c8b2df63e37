import { type TextColumn, textColumn } from '../events/columns.ts';
import { textAt } from '../events/text-table.ts';

/** A column of ids of shapes with each as it goes now; the same column where nothing changed. */
export function currentShapes(column: TextColumn, current: (id: string) => string): TextColumn {
  const { table, codes } = column;
  const ids = Array.from({ length: table.count }, (_, code) => textAt(table, code));
  const now = ids.map(current);
  if (now.every((id, code) => id === ids[code])) return column;
  return textColumn(Array.from(codes, (code) => (code < 0 ? undefined : now[code])));
}
