import { basename, dirname } from 'node:path';
import type { FilePosition } from '#store/sources/positions.ts';
import { sameBytes } from './content.ts';
import { bannerBytes, goesOnFrom, Head, sameUpTo } from './identity.ts';
import type { OpenFile } from './open-file.ts';

/** How long a file that may be a copy waits for what it may be a copy of to be truncated or to go on (milliseconds). */
const doubtTime = 5_000;
/** A file that came to be this long after another was last read is not that one (milliseconds). */
const bornSlack = 1_000;

/** What a file is. */
export type Recognised =
  /** One that was read before, under this or another name, or packed since. */
  | { readonly kind: 'known'; readonly position: FilePosition }
  /** One that is to be read from `from` on, with what there is to say about it. */
  | { readonly kind: 'new'; readonly from: number; readonly note: string }
  /** The same, byte by byte, as another that has been read that far: nothing of it is read. */
  | { readonly kind: 'copy'; readonly of: OpenFile }
  /** It is not known yet. */
  | { readonly kind: 'unclear' };

/** What a file is recognised by, besides what it holds. */
export interface FileSurroundings {
  /** Its bytes, unpacked. */
  readonly size: number;
  /** Positions of files that are not there any more, or that were truncated since. */
  readonly free: readonly FilePosition[];
  /** The files that are being followed. */
  readonly others: readonly OpenFile[];
  readonly now: number;
}

/**
 * Recognises a file. Losing is worse than doubling: a file is taken for one
 * that was read only where all that can be compared is the same and more than a banner; where it may yet be a copy that
 * is being made, nothing is decided; and what is read in doubt is said.
 */
export async function recognise(file: OpenFile, { size, free, others, now }: FileSurroundings): Promise<Recognised> {
  const head = new Head(file.content);
  const here = free.find(({ place }) => place === file.place);
  if (here && (await isSameFile(file, size, here))) return { kind: 'known', position: here };
  let note = '';
  for (const position of [...free].sort((a, b) => b.offset - a.offset)) {
    if (position.offset > size || !(await goesOnFrom(file.content, position, head))) continue;
    if (isCertain(file, position)) return { kind: 'known', position };
    note = `It begins like ${position.path}, which is gone; if it is a copy of that, its first ${position.offset} bytes are stored twice.`;
  }
  const other = await alike(file, head, { size, others });
  if (other) {
    const isEqual = size <= other.size && (await sameBytes(file.content, other.content, 0, size));
    if (isEqual && size > bannerBytes) {
      return other.position && other.position.offset >= size && isAtRest(file, now)
        ? { kind: 'copy', of: other }
        : { kind: 'unclear' };
    }
    if (isEqual && !isAtRest(file, now)) return { kind: 'unclear' };
    if (isEqual)
      note = `So far it reads like ${other.path}; if it is a copy of that, its first ${size} bytes are stored twice.`;
  }
  return await shortened(file, head, { size, free, note });
}

/** The file that is where one was: the same one, unless it was truncated, or came to be later in the same place. */
async function isSameFile(file: OpenFile, size: number, position: FilePosition): Promise<boolean> {
  if (position.offset > size || !(await goesOnFrom(file.content, position))) return false;
  const isLater = file.bornAt > position.changedAt + bornSlack && file.bornAt <= file.changedAt;
  return position.offset > bannerBytes || !isLater;
}

/** What was read is long enough to be no accident, or the name tells: a file was packed under its own name. */
function isCertain(file: OpenFile, { offset, path }: FilePosition): boolean {
  if (offset > bannerBytes) return true;
  return file.isPacked && dirname(file.path) === dirname(path) && basename(file.path).startsWith(basename(path));
}

/** A file that is being followed and begins alike. */
async function alike(
  file: OpenFile,
  head: Head,
  { size, others }: Pick<FileSurroundings, 'size' | 'others'>,
): Promise<OpenFile | undefined> {
  for (const other of others) {
    if (other === file || !other.position || size === 0) continue;
    if (await head.isOf(other.position)) return other;
    if (size < other.position.headLength && (await sameBytes(file.content, other.content, 0, size))) return other;
  }
  return undefined;
}

/** A new file; or what is left of one that was read further, such as a copy that was made before the last lines came. */
async function shortened(
  file: OpenFile,
  head: Head,
  { size, free, note }: Pick<FileSurroundings, 'size' | 'free'> & { readonly note: string },
): Promise<Recognised> {
  for (const position of free) {
    if (position.offset <= size) continue;
    const from = await sameUpTo(file.content, size, position, head);
    if (from === 0) continue;
    const more = `It is the same as ${position.path} was up to byte ${from}; what follows may be stored twice.`;
    return { kind: 'new', from, note: size > from ? more : '' };
  }
  return { kind: 'new', from: 0, note };
}

function isAtRest(file: OpenFile, now: number): boolean {
  return now - Math.max(file.changedAt, file.firstSeen) > doubtTime;
}
