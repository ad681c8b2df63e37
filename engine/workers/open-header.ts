import { inflateRawSync } from 'node:zlib';
import { decodeHeader, type SegmentHeader } from '#core/segments/header.ts';

/** How JSON begins. */
const brace = 0x7b;

/**
 * Reads a header as it is in the store: packed, or as those of old and those that name no more than parts, plain. What is
 * packed cannot begin like JSON: its first byte says how, and then comes the brace itself in other bits.
 */
export function openHeader(data: Uint8Array): SegmentHeader {
  return decodeHeader(data[0] === brace ? data : inflateRawSync(data));
}
