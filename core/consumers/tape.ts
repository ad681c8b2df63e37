import { hour } from '../events/time-units.ts';
import type { FormatChoice } from '../formats/index.ts';
import { tapedEvent } from '../tape/taped.ts';
import type { Consumer } from './consumer.ts';

/** How long records stay on the tape, in milliseconds. */
export const tapeLength = 25 * hour;

/** A piece of the tape: records of one source and format, each a JSON array on its line, packed (raw deflate). */
export interface NewTapeChunk {
  readonly source: string;
  /** When its records arrived (milliseconds). */
  readonly from: number;
  readonly to: number;
  readonly lines: number;
  readonly data: Uint8Array;
}

interface OpenChunk {
  readonly source: string;
  readonly lines: string[];
  from: number;
  to: number;
}

/** Picks raw records for the tape, by chance, so that what the tape holds can be weighed up to what arrived. */
export const tape: Consumer<readonly NewTapeChunk[]> = {
  begin: (_plan, { now, deflate }) => {
    const open = new Map<string, OpenChunk>();
    const encoder = new TextEncoder();
    const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
    return {
      add: ({ delivery: { source, format: given, tapeEvery }, read: { batch, records: recordOf }, records }) => {
        for (let row = passedOver(tapeEvery); row < batch.rows; row += 1 + passedOver(tapeEvery)) {
          const received = batch.received[row] as number;
          if (received < now - tapeLength) continue;
          const record = recordOf[row] as number;
          const [format, ...raw] = records
            ? [given, decoder.decode(records.bytes.subarray(records.starts[record], records.ends[record]))]
            : tapedEvent(batch, row);
          const chunk = chunkOf(open, source, format, received);
          chunk.lines.push(JSON.stringify([received, tapeEvery, format, ...raw]));
        }
      },
      effect: () => {
        if (open.size === 0) return undefined;
        return [...open.values()].map(({ source, lines, from, to }) => ({
          source,
          from: Math.floor(from),
          to: Math.floor(to),
          lines: lines.length,
          data: deflate(encoder.encode(lines.join('\n'))),
        }));
      },
    };
  },
  bytesOf: (chunks) => chunks.map(({ data }) => data),
};

/**
 * How many records are passed over before one is taken, where each is with a chance of one in `every`: geometrically
 * distributed (L. Devroye, "Non-uniform random variate generation", 1986, chapter X.2).
 */
function passedOver(every: number): number {
  return every <= 1 ? 0 : Math.floor(Math.log1p(-Math.random()) / Math.log1p(-1 / every));
}

/** All records of a chunk are written in the same format. */
function chunkOf(open: Map<string, OpenChunk>, source: string, format: FormatChoice, received: number): OpenChunk {
  const key = `${source} ${format}`;
  let chunk = open.get(key);
  if (!chunk) open.set(key, (chunk = { source, lines: [], from: received, to: received }));
  chunk.from = Math.min(chunk.from, received);
  chunk.to = Math.max(chunk.to, received);
  return chunk;
}
