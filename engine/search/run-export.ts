import type { ExportField, ExportPiece } from '#core/exports/export-format.ts';
import { exportFormats } from '#core/exports/index.ts';
import type { Extraction } from '#core/search/extraction.ts';
import { addFieldKind, type FieldKind } from '#core/segments/field-kinds.ts';
import { again } from '#store/again.ts';
import { listSegments } from '#store/segments.ts';
import { type JudgedSegment, judgedSegments } from './judged-segments.ts';
import { type QueryText, queryOf } from './query.ts';
import type { SearchSetting } from './run-search.ts';

/** Segments that are written out at a time, so that one is ready when another was taken. */
const ahead = 4;

/**
 * Everything that a query finds, piece by piece in the form of a name: one segment after the other by its first event, each
 * in order of time. Whoever takes no more holds it up; aborting the signal ends it.
 */
export async function* exported(
  { database, pools, headers, fleets, currentShape }: SearchSetting,
  { text, format, signal }: { readonly text: QueryText; readonly format: string; readonly signal: AbortSignal },
): AsyncGenerator<string | Uint8Array> {
  const now = Date.now();
  const query = queryOf({ ...text, order: 'oldest' });
  const listed = await again(() => listSegments(database, query.window, undefined));
  const { segments, fields: known } = await again(() =>
    judgedSegments(listed, query, { headers, now, fleets, currentShape }),
  );
  const fields = exportFields(known, query.extraction);
  const joiner = await exportFormats.get(format)?.joiner(fields);
  if (!joiner) return;
  yield joiner.head();
  const write = (segment: JudgedSegment): Promise<ExportPiece> =>
    pools.read(segment.id % pools.readLanes, {
      ...{ kind: 'writeOut', query: text, segment, format, fields, now },
      fleets: fleets.get(segment.source) ?? [],
    });
  const pending: Promise<ExportPiece>[] = [];
  const next = async (): Promise<string | Uint8Array> => {
    const piece = await pending.shift();
    return piece ? joiner.add(piece) : '';
  };
  for (const segment of segments) {
    signal.throwIfAborted();
    const piece = write(segment);
    // Whoever waits for it is told what went wrong; nobody may be there any more.
    piece.catch(() => {});
    pending.push(piece);
    if (pending.length >= ahead) yield await next();
  }
  while (pending.length > 0) yield await next();
  yield joiner.tail();
}

function exportFields(
  known: ReadonlyMap<string, FieldKind>,
  extraction: Extraction | undefined,
): readonly ExportField[] {
  const fields = new Map(known);
  for (const name of extraction?.fields ?? [])
    addFieldKind(fields, name, extraction?.numbers.has(name) ? 'number' : 'text');
  return [...fields].map(([name, kind]) => ({ name, kind })).sort((a, b) => (a.name < b.name ? -1 : 1));
}
