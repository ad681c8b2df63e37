import type { EventBatch } from '../events/batch.ts';

/** Most events of a piece: no more than a moment's work, after which it is asked whether the export goes on. */
const mostEvents = 8_192;
/** A piece from a segment with many columns has fewer, as each column is looked at in each row; but not so few that beginning takes longer. */
const mostCells = 20_000_000;
const fewestEvents = 1_024;
/** A piece ends after the event with which its records come to this many bytes: a long text that many events share is written out for each. */
const mostRecordBytes = 32_000_000;

/** Where in `rows` a piece ends (exclusive) that begins at `from`: after at least one row, if there is one. */
export function endOfPiece({ attributes, size }: EventBatch, rows: Int32Array, from: number): number {
  const most = Math.min(mostEvents, Math.max(fewestEvents, Math.floor(mostCells / (attributes.size + 1))));
  const last = Math.min(rows.length, from + most);
  let bytes = 0;
  for (let end = from; end < last; ) {
    bytes += size[rows[end++] as number] as number;
    if (bytes >= mostRecordBytes) return end;
  }
  return last;
}
