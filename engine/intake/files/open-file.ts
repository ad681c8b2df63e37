import { type FileHandle, open, realpath } from 'node:fs/promises';
import type { FilePosition } from '#store/sources/positions.ts';
import { type Content, packedContent, plainContent, Unreadable } from './content.ts';

/** A file that stays open while it is followed. */
export interface OpenFile {
  /** Device and inode. */
  readonly place: string;
  readonly handle: FileHandle;
  readonly isPacked: boolean;
  content: Content;
  /** Where it is now; the last place when it was moved out of sight. */
  path: string;
  /** Whether one of the source's patterns finds it. */
  isListed: boolean;
  /** Bytes of its content; of a packed file those of the pack. */
  size: number;
  /** When it was last written, and when it came to be, as the file system says (milliseconds). */
  changedAt: number;
  bornAt: number;
  /** Names that it has; 0 when it was removed. */
  links: number;
  readonly firstSeen: number;
  /** How far it has been read; undefined for a file that was not recognised yet, or of which nothing was read. */
  position: FilePosition | undefined;
  /** Whether it is settled what it is, so that it may be read. */
  isKnown: boolean;
  /** When it was last read to its end (milliseconds); 0 before. */
  readAt: number;
  /** The size and time of a packed file at which it could not be unpacked. */
  unreadable: string;
}

/** Opens a file; undefined where it is gone, cannot be read, or is none of those that `allowed` lets be read. */
export async function openFile(path: string, allowed: (path: string) => boolean): Promise<OpenFile | undefined> {
  let handle: FileHandle | undefined;
  try {
    if (!allowed(await realpath(path))) return undefined;
    handle = await open(path, 'r');
    const { dev, ino, size, mtimeMs, birthtimeMs, nlink } = await handle.stat();
    const isPacked = path.endsWith('.gz');
    return {
      place: `${dev}-${ino}`,
      handle,
      isPacked,
      content: isPacked ? packedContent(handle) : plainContent(handle),
      path,
      isListed: true,
      size,
      changedAt: mtimeMs,
      bornAt: birthtimeMs,
      links: nlink,
      firstSeen: Date.now(),
      position: undefined,
      isKnown: false,
      readAt: 0,
      unreadable: '',
    };
  } catch {
    await handle?.close().catch(() => {});
    return undefined;
  }
}

/** Sees how large the file is now. A packed file that was written to is unpacked from its beginning again. */
export async function look(file: OpenFile): Promise<void> {
  const { size, mtimeMs, nlink } = await file.handle.stat();
  if (file.isPacked && (size !== file.size || mtimeMs !== file.changedAt)) {
    file.content.close();
    file.content = packedContent(file.handle);
    file.readAt = 0;
  }
  file.size = size;
  file.changedAt = mtimeMs;
  file.links = nlink;
}

/** Packed files are read up to this size, unpacked. */
const mostUnpackedBytes = 10_000_000_000;

/** How long a packed file is, unpacked; undefined while it cannot be unpacked to its end. */
export async function unpackedSize(file: OpenFile): Promise<number | undefined> {
  const state = `${file.size} ${file.changedAt}`;
  if (file.unreadable === state) return undefined;
  const piece = 1_000_000;
  try {
    for (let size = 0; ; ) {
      const read = await file.content.read(size, piece);
      size += read.length;
      if (size > mostUnpackedBytes) throw new Unreadable('it is too long');
      if (read.length < piece) return size;
    }
  } catch (error) {
    if (!(error instanceof Unreadable)) throw error;
    file.unreadable = state;
    return undefined;
  }
}

/** Lets go of a file. */
export async function closeFile(file: OpenFile): Promise<void> {
  file.content.close();
  await file.handle.close().catch(() => {});
}
