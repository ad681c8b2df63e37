import { createHash } from 'node:crypto';
import type { FileMark } from '#core/consumers/progress.ts';
import type { FilePosition } from '#store/sources/positions.ts';
import type { Content } from './content.ts';

/** Bytes at the beginning of a file, and before each mark, that are compared with what was read. */
export const fingerprintBytes = 1_024;

/** Marks kept of a file. */
const mostMarks = 16;

/** What is no longer than this may be a banner with which many files begin: that it is the same says little. */
export const bannerBytes = 4_096;

/** 128 bits of SHA-256, hexadecimal. */
export function hashOf(bytes: Uint8Array): string {
  return createHash('sha256').update(bytes).digest('hex').slice(0, 32);
}

/** The mark of a place that was reached, given the bytes before it. */
export function markAt(offset: number, before: Uint8Array): FileMark {
  const length = Math.min(before.length, fingerprintBytes);
  return [offset, length, hashOf(before.subarray(before.length - length))];
}

/** Marks with one more; the oldest go. */
export function withMark(marks: readonly FileMark[], mark: FileMark): readonly FileMark[] {
  return [...marks.filter(([offset]) => offset < mark[0]), mark].slice(-mostMarks);
}

/** How a file begins, hashed once for each length that is asked for. */
export class Head {
  private readonly hashes = new Map<number, string>();

  constructor(private readonly content: Content) {}

  /** Whether the file begins as the one of a position did. */
  async isOf({ headLength, headHash }: FilePosition): Promise<boolean> {
    if (headLength === 0) return false;
    let hash = this.hashes.get(headLength);
    if (hash === undefined) {
      const head = await this.content.read(0, headLength);
      this.hashes.set(headLength, (hash = head.length === headLength ? hashOf(head) : ''));
    }
    return hash === headHash;
  }
}

async function bears(content: Content, [offset, length, hash]: FileMark): Promise<boolean> {
  const before = await content.read(offset - length, length);
  return before.length === length && hashOf(before) === hash;
}

/** Whether the bytes before the place that was reached are those that were read. */
export async function reaches(content: Content, { marks }: FilePosition): Promise<boolean> {
  const last = marks.at(-1);
  return !last || (await bears(content, last));
}

/** Whether a file goes on from a position: it begins as that one did, and its bytes before the place reached are the same. */
export async function goesOnFrom(content: Content, position: FilePosition, head = new Head(content)): Promise<boolean> {
  return (await head.isOf(position)) && (await reaches(content, position));
}

/**
 * How far a file is the same as one that was read further, as far as its marks tell: the last of them that it bears. Only
 * marks beyond what may be a banner count.
 */
export async function sameUpTo(content: Content, size: number, position: FilePosition, head: Head): Promise<number> {
  const marks = position.marks.filter(([offset]) => offset <= size && offset > bannerBytes);
  const last = marks.at(-1);
  if (!last || !(await head.isOf(position)) || !(await bears(content, last))) return 0;
  return last[0];
}
