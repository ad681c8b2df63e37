import type { Delivery } from '../deliveries/delivery.ts';

/** When the deliveries of tests come in: 2026-11-24T09:00:00Z, in milliseconds. */
export const received = Date.UTC(2026, 10, 24, 9);

/** A delivery of lines, all of which go on the tape. */
export function delivery(lines: string | readonly string[] | Uint8Array, more: Partial<Delivery> = {}): Delivery {
  const text = typeof lines === 'string' || lines instanceof Uint8Array ? lines : lines.join('\n');
  return {
    source: 'gates',
    shape: 'lines',
    format: 'auto',
    gzip: false,
    chunks: [typeof text === 'string' ? new TextEncoder().encode(text) : text],
    received,
    backfill: false,
    tapeEvery: 1,
    ...more,
  };
}
