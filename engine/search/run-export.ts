import { exportFormats } from '#core/exports/index.ts';
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
  { database, pools, headers, fleets }: SearchSetting,
  { text, format, signal }: { readonly text: QueryText; readonly format: string; readonly signal: AbortSignal },
): AsyncGenerator<string> {
  const now = Date.now();
  const query = queryOf({ ...text, order: 'oldest' });
  const listed = await again(() => listSegments(database, query.window, undefined));
  const { segments, fields: known } = await again(() => judgedSegments(listed, query, { headers, now, fleets }));
  const fields = [...new Set([...known, ...(query.extraction?.fields ?? [])])].sort();
  yield exportFormats.get(format)?.head(fields) ?? '';
  const write = (segment: JudgedSegment): Promise<string> =>
    pools.read(segment.id % pools.readLanes, {
      ...{ kind: 'writeOut', query: text, segment, format, fields, now },
      fleets: fleets.get(segment.source) ?? [],
    });
  const pending: Promise<string>[] = [];
  for (const segment of segments) {
    signal.throwIfAborted();
    const piece = write(segment);
    // Whoever waits for it is told what went wrong; nobody may be there any more.
    piece.catch(() => {});
    pending.push(piece);
    if (pending.length >= ahead) yield (await pending.shift()) ?? '';
  }
  while (pending.length > 0) yield (await pending.shift()) ?? '';
}
