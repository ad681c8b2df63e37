/** Room for bytes in memory that all threads see: what is in it is not copied on its way to a worker. */
export function sharedRoom(length: number): Buffer<SharedArrayBuffer> {
  return Buffer.from(new SharedArrayBuffer(length));
}

/** Some pieces one behind the other in shared memory. */
export function joinShared(pieces: readonly Uint8Array[]): Buffer<SharedArrayBuffer> {
  const joined = sharedRoom(pieces.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const piece of pieces) {
    joined.set(piece, at);
    at += piece.length;
  }
  return joined;
}

/** The same pieces in shared memory; those that are stored already stay where they are. */
export function inSharedMemory(pieces: readonly Uint8Array[]): readonly Uint8Array[] {
  if (pieces.every(({ buffer }) => buffer instanceof SharedArrayBuffer)) return pieces;
  const joined = joinShared(pieces);
  let at = 0;
  return pieces.map(({ length }) => joined.subarray(at, (at += length)));
}
