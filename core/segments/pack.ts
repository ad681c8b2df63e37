import type { EventBatch } from '../events/batch.ts';
import { encodeSegment, type NewSegment, type SegmentFacts, type SegmentLayout } from './segment.ts';

/** Where a segment belongs, and how it is written. */
export interface PackSetting {
  readonly tier: string;
  /** Start of the day (passing tier: hour), in milliseconds. */
  readonly slot: number;
  readonly revision: number;
  readonly layout: SegmentLayout;
  /** Compresses a part (raw deflate, RFC 1951). */
  readonly deflate: (bytes: Uint8Array) => Uint8Array;
  /** Bytes as they arrived, for events of which the size of some is not known; of others it follows from the events. */
  readonly bytes?: number;
}

/** Makes a segment of a batch, ready to be stored. */
export function packSegment(batch: EventBatch, setting: PackSetting): NewSegment {
  const { tier, slot, revision, layout, deflate, bytes } = setting;
  const { facts, parts, filters, header } = encodeSegment(batch, layout);
  const known: SegmentFacts = bytes === undefined || !batch.size.includes(0) ? facts : { ...facts, bytes };
  return {
    tier,
    source: batch.source,
    slot,
    revision,
    facts: known,
    parts: [...parts, ...filters].map(({ name, data }) => ({ name, data: deflate(data) })),
    header: deflate(header),
  };
}

/** Bytes that a segment takes in the store. */
export function storedBytes({ parts, header }: NewSegment): number {
  return parts.reduce((sum, { data }) => sum + data.length, header?.length ?? 0);
}
