import { gather, pick } from '../events/select.ts';
import type { PipelineResult } from '../pipelines/run-pipelines.ts';

/**
 * Leaves out the events that turned out to be older than `since` (milliseconds), as if they had not come. What the steps
 * decided of the others stays: a reject stays a reject.
 */
export function cutSince(piped: PipelineResult, since: number | undefined): PipelineResult {
  const { batch, read, fates, exits } = piped;
  if (since === undefined || batch.time.every((time) => time >= since)) return piped;
  const rows = Int32Array.from([...batch.time.keys()].filter((row) => (batch.time[row] as number) >= since));
  return {
    batch: gather(batch.source, [{ batch, rows }]),
    read: gather(batch.source, [{ batch: read, rows }]),
    fates: pick(fates, rows, new Uint16Array(rows.length)),
    exits,
  };
}
