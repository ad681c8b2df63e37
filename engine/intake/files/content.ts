import type { FileHandle } from 'node:fs/promises';
import { Readable } from 'node:stream';
import { createGunzip } from 'node:zlib';

/** What a file holds, read through the handle it was opened with: whatever happens to its name, it is the same file. */
export interface Content {
  /** Up to `length` bytes from `offset` on; fewer only at the end. Throws {@link Unreadable}. */
  readonly read: (offset: number, length: number) => Promise<Uint8Array>;
  /** Lets go of what is needed for reading; the handle stays open. */
  readonly close: () => void;
}

/** A packed file cannot be unpacked: it is broken, or not yet whole. */
export class Unreadable extends Error {
  override readonly name = 'Unreadable';
}

/** The content of a file as it is stored. */
export function plainContent(handle: FileHandle): Content {
  return {
    read: async (offset, length) => {
      const buffer = Buffer.allocUnsafe(length);
      let filled = 0;
      while (filled < length) {
        const { bytesRead } = await handle.read(buffer, filled, length - filled, offset + filled);
        if (bytesRead === 0) break;
        filled += bytesRead;
      }
      return buffer.subarray(0, filled);
    },
    close: () => {},
  };
}

/** The content of a gzip, unpacked as it is read; reading on costs nothing anew, reading back begins again. */
export function packedContent(handle: FileHandle): Content {
  let stream: PackedStream | undefined;
  let queue: Promise<unknown> = Promise.resolve();
  const read = async (offset: number, length: number): Promise<Uint8Array> => {
    if (!stream || offset < stream.start) {
      stream?.close();
      stream = new PackedStream(handle);
    }
    return await stream.read(offset, length);
  };
  return {
    read: (offset, length) => {
      // One after the other: they share the stream.
      const next = queue.then(() => read(Math.max(0, offset), length));
      queue = next.catch(() => {});
      return next;
    },
    close: () => {
      stream?.close();
      stream = undefined;
    },
  };
}

/** A file from its beginning, piece by piece. A stream of the handle's own would close it when it ends. */
async function* packedPieces(handle: FileHandle): AsyncGenerator<Uint8Array> {
  const length = 262_144;
  for (let at = 0; ; ) {
    const { bytesRead, buffer } = await handle.read(Buffer.allocUnsafe(length), 0, length, at);
    if (bytesRead === 0) return;
    at += bytesRead;
    yield buffer.subarray(0, bytesRead);
  }
}

/** Bytes that were read and are kept in case reading goes back a little, as for the bytes before a mark. */
const keptBehind = 4_096;

class PackedStream {
  /** Offset of the first byte that is still there. */
  start = 0;
  private bytes: Uint8Array = new Uint8Array(0);
  private ended = false;
  private readonly source;
  private readonly pieces: AsyncIterator<Uint8Array>;

  constructor(handle: FileHandle) {
    this.source = Readable.from(packedPieces(handle), { objectMode: false });
    const unpacked = createGunzip({ chunkSize: 262_144 });
    this.source.once('error', (error) => unpacked.destroy(error));
    this.pieces = this.source.pipe(unpacked)[Symbol.asyncIterator]();
  }

  async read(offset: number, length: number): Promise<Uint8Array> {
    while (!this.ended && this.start + this.bytes.length < offset + length) await this.pull(offset);
    const from = offset - this.start;
    const wanted = this.bytes.slice(Math.max(0, from), Math.max(0, from + length));
    return wanted;
  }

  close(): void {
    this.source.destroy();
    void this.pieces.return?.().catch(() => {});
  }

  /** Takes the next piece; what is well before `wanted` is let go. */
  private async pull(wanted: number): Promise<void> {
    let next: IteratorResult<Uint8Array>;
    try {
      next = await this.pieces.next();
    } catch (error) {
      throw new Unreadable(error instanceof Error ? error.message : 'it cannot be unpacked');
    }
    if (next.done) {
      this.ended = true;
      return;
    }
    const drop = Math.max(0, Math.min(this.bytes.length, wanted - keptBehind - this.start));
    this.bytes = Buffer.concat([this.bytes.subarray(drop), next.value]);
    this.start += drop;
  }
}

/** Compares two contents over a stretch, piece by piece. */
export async function sameBytes(a: Content, b: Content, from: number, to: number): Promise<boolean> {
  const piece = 262_144;
  for (let at = from; at < to; at += piece) {
    const length = Math.min(piece, to - at);
    const [left, right] = [await a.read(at, length), await b.read(at, length)];
    if (left.length !== length || Buffer.compare(left, right) !== 0) return false;
  }
  return true;
}
