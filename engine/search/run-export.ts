import { mostFieldColumns } from '#core/exports/columns.ts';
import type { ExportFields } from '#core/exports/export-format.ts';
import { exportFormats } from '#core/exports/index.ts';
import type { Extraction } from '#core/search/extraction.ts';
import { addKnownField, type KnownField } from '#core/segments/field-kinds.ts';
import { listSegments } from '#store/events/segments.ts';
import { retryRead } from '#store/retry-read.ts';
import { type ReadSources, readSources } from '../usage/read-sources.ts';
import { type QueryText, queryOf } from '../workers/query.ts';
import type { WrittenPiece } from '../workers/tasks/write-out.ts';
import { type JudgedSegment, judgedSegments } from './judged-segments.ts';
import { oneAhead } from './one-ahead.ts';
import type { SearchSetting } from './run-search.ts';

/** How long a piece waits at most while others search, in milliseconds: searches come first, and an export makes headway. */
const longestWait = 500;

/** An export that was asked for. */
interface ExportRun {
  readonly text: QueryText;
  readonly format: string;
  readonly signal: AbortSignal;
  /** Called once with where matching events may be. */
  readonly onSources: (read: ReadSources) => void;
}

/**
 * Everything that a query finds, piece by piece in the form of a name: one segment after the other by its first event, each
 * in order of time. Whoever takes no more holds it up; aborting the signal ends it before the next piece.
 */
export async function* exported(
  { database, pools, headers, fleets, currentShape }: SearchSetting,
  { text, format, signal, onSources }: ExportRun,
): AsyncGenerator<string | Uint8Array> {
  const now = Date.now();
  const query = queryOf({ ...text, order: 'oldest' });
  const listed = await retryRead(() => listSegments(database, query.window, undefined));
  const { segments, foundFields } = await retryRead(() =>
    judgedSegments(listed, query, { headers, now, fleets, currentShape }),
  );
  onSources(readSources(segments, query.window.from));
  const fields = exportFields(foundFields, query.extraction);
  const joiner = await exportFormats.get(format)?.joiner(fields);
  if (!joiner) return;
  yield joiner.head();
  // The next piece is produced while the current one is joined and sent.
  for await (const piece of oneAhead(pieces())) if (piece.data.length > 0) yield joiner.add(piece);
  yield joiner.tail();

  async function* pieces(): AsyncGenerator<WrittenPiece['piece'], void> {
    for (const segment of segments)
      for (let from: number | undefined = 0; from !== undefined; ) {
        const { piece, next }: WrittenPiece = await write(segment, from);
        yield piece;
        from = next;
      }
  }

  async function write(segment: JudgedSegment, from: number): Promise<WrittenPiece> {
    await pools.quiet(longestWait);
    signal.throwIfAborted();
    const whose = fleets.get(segment.source) ?? [];
    return await pools.writeOut({ kind: 'writeOut', query: text, segment, from, format, fields, fleets: whose, now });
  }
}

/** The fields that the most events have are shown in columns of their own, by name. */
function exportFields(known: ReadonlyMap<string, KnownField>, extraction: Extraction | undefined): ExportFields {
  const fields = new Map(known);
  for (const name of extraction?.fields ?? [])
    addKnownField(fields, name, {
      kind: extraction?.numbers.has(name) ? 'number' : 'text',
      events: Number.POSITIVE_INFINITY,
    });
  const ranked = [...fields].sort(([, a], [, b]) => b.events - a.events);
  const named = ranked.slice(0, mostFieldColumns).map(([name, { kind, whole }]) => ({ name, kind, whole }));
  return {
    shown: named.sort((a, b) => (a.name < b.name ? -1 : 1)),
    others: ranked.slice(mostFieldColumns).map(([name]) => name),
  };
}
