/** Most bytes that a packed delivery may unpack to. */
export const maxUnpackedBytes = 64_000_000;

/**
 * How many bytes a gzip says that it unpacks to: the size modulo 2³² at its end (RFC 1952, 2.3.1). It may say too little, in
 * which case nothing is unpacked beyond it before there is room for more.
 */
export function declaredSize(packed: Uint8Array): number {
  if (packed.length < 18) return packed.length;
  const size = new DataView(packed.buffer, packed.byteOffset + packed.length - 4, 4).getUint32(0, true);
  return Math.min(maxUnpackedBytes, Math.max(size, packed.length));
}

/** Whether bytes begin as a gzip does. */
export function isGzip(bytes: Uint8Array): boolean {
  return bytes[0] === 0x1f && bytes[1] === 0x8b;
}
