import type { Readable } from 'node:stream';
import { joinShared } from './shared-bytes.ts';

/** Why a body was not read: it is longer than one may be, or there is no room for it now. */
export type BodyRefusal = 'too-long' | 'no-room';

/** Most bytes of bodies that are in memory at a time, of all requests together. */
const mostBytes = 160_000_000;

/** Counts the bytes of all bodies that are being read or wait for their answer, so that they have a bound together. */
export class BodyBudget {
  private taken = 0;

  constructor(private readonly most = mostBytes) {}

  /** Bytes that are taken now. */
  get bytes(): number {
    return this.taken;
  }

  /** Reads a body of at most `longest` bytes into shared memory; of one that is refused nothing is kept, and what still comes is let pass. */
  async read(body: Readable, longest: number): Promise<{ readonly bytes: Buffer } | { readonly refused: BodyRefusal }> {
    const chunks: Buffer[] = [];
    let size = 0;
    let refused: BodyRefusal | undefined;
    try {
      for await (const chunk of body) {
        const bytes: Buffer = chunk;
        if (refused) continue;
        if (size + bytes.length > longest) refused = 'too-long';
        else if (this.taken + bytes.length > this.most) refused = 'no-room';
        if (refused) {
          this.release(size);
          chunks.length = 0;
          continue;
        }
        size += bytes.length;
        this.taken += bytes.length;
        chunks.push(bytes);
      }
    } catch (error) {
      if (!refused) this.release(size);
      throw error;
    }
    return refused ? { refused } : { bytes: joinShared(chunks) };
  }

  /** Gives back the bytes of a body that is done with. */
  release(bytes: number): void {
    this.taken -= bytes;
  }
}
