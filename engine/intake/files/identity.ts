import { createHash } from 'node:crypto';
import type { FilePosition } from '#store/positions.ts';

/** Bytes at the beginning of a file by which it is told apart. */
export const fingerprintBytes = 1_024;

/** What tells a file apart: the hash of its first `length` bytes, and where it lies on its disk. */
export interface FileIdentity {
  /** Device and inode. */
  readonly place: string;
  readonly length: number;
  readonly hash: string;
}

/** The identity of a file by how it begins (its first bytes, unpacked). */
export function identityOf(place: string, beginning: Uint8Array): FileIdentity {
  const length = Math.min(beginning.length, fingerprintBytes);
  return { place, length, hash: hashOf(beginning, length) };
}

function hashOf(beginning: Uint8Array, length: number): string {
  return createHash('sha256').update(beginning.subarray(0, length)).digest('hex').slice(0, 32);
}

/** An identity as the store holds it. */
export function writeIdentity({ place, length, hash }: FileIdentity): string {
  return `${place} ${length} ${hash}`;
}

/** Reads what {@link writeIdentity} wrote. */
export function readIdentity(text: string): FileIdentity {
  const [place = '', length = '0', hash = ''] = text.split(' ');
  return { place, length: Number(length), hash };
}

/** Whether a file begins as the one with this identity did. */
export function beginsAs({ length, hash }: FileIdentity, beginning: Uint8Array): boolean {
  return length > 0 && beginning.length >= length && hashOf(beginning, length) === hash;
}

/** A file as it lies there now. */
export interface FileSeen {
  readonly path: string;
  readonly place: string;
  readonly beginning: Uint8Array;
}

/** What a file is: one that was read before (and how far), a new one, or a copy of one that is still there. */
export type Recognised =
  | { readonly kind: 'known'; readonly position: FilePosition }
  | { readonly kind: 'new' }
  | { readonly kind: 'copy' };

/**
 * Recognises a file that may have been renamed, truncated, copied or packed since it was read. A file with the beginning
 * of one that is known is that file when it lies in the same place, or when nothing else does; as long as the known one
 * is still there it is a copy, such as rotation makes before it truncates, and must not be read.
 */
export function recognise(file: FileSeen, positions: readonly FilePosition[], others: readonly FileSeen[]): Recognised {
  const alike = positions.filter((position) => beginsAs(readIdentity(position.identity), file.beginning));
  const here = alike.find((position) => readIdentity(position.identity).place === file.place);
  if (here) return { kind: 'known', position: here };
  for (const position of alike) {
    const identity = readIdentity(position.identity);
    const owner = others.find((other) => other.place === identity.place && other.path !== file.path);
    if (!owner || !beginsAs(identity, owner.beginning)) return { kind: 'known', position };
  }
  return alike.length > 0 ? { kind: 'copy' } : { kind: 'new' };
}
