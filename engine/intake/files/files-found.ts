import { type FileHandle, open, realpath, stat } from 'node:fs/promises';
import { join } from 'node:path';
import type { FilesAnswer, FoundFile } from '#core/answers/sources.ts';
import type { SourceBounds } from '../../sources/source-bounds.ts';
import { listFiles } from './listing.ts';

/** Most files that are shown, and most that are looked at for the latest of them. */
const mostShown = 30;
const mostLookedAt = 300;
/** How much of the end of a file is read, in bytes, and how many of its lines are shown. */
const tail = 64 * 1024;
const mostLines = 400;
/** Longest line that is shown, in characters. */
const longestLine = 2_000;

/** Patterns for logs in a folder and the folders in it. */
const usualNames = ['*.log', '*/*.log', '*/*/*.log', '*.jsonl', '*/*.jsonl', 'syslog', 'messages'];

/**
 * The files that patterns find, the latest first, with the last lines of the first that can be read; without patterns the usual
 * logs in the folders that the installation allows. Others than those that may be read are left out.
 */
export async function filesFound(globs: readonly string[], bounds: SourceBounds): Promise<FilesAnswer> {
  const wanted =
    globs.length > 0 ? globs : bounds.folders.flatMap((folder) => usualNames.map((name) => join(folder, name)));
  const paths = await listFiles(wanted);
  const found: (FoundFile & { readonly isPacked: boolean })[] = [];
  for (const path of paths.slice(0, mostLookedAt)) {
    const file = await lookAt(path, bounds);
    if (file) found.push(file);
  }
  found.sort((a, b) => b.changedAt - a.changedAt);
  const shown = found.slice(0, mostShown);
  const tails = await Promise.all(shown.map(({ path, isPacked }) => (isPacked ? [] : lastLines(path))));
  const lines = tails.find(({ length }) => length > 0) ?? [];
  const files = shown.map(({ isPacked: _, ...file }, i) => ({ ...file, lastLine: tails[i]?.at(-1) ?? '' }));
  return { files, more: Math.max(0, found.length - shown.length) + Math.max(0, paths.length - mostLookedAt), lines };
}

async function lookAt(path: string, bounds: SourceBounds) {
  try {
    if (!bounds.allowsFile(await realpath(path))) return undefined;
    const { size, mtimeMs } = await stat(path);
    return { path, size, changedAt: Math.floor(mtimeMs), lastLine: '', isPacked: path.endsWith('.gz') };
  } catch {
    // It has gone meanwhile, or may not be looked at.
    return undefined;
  }
}

/** The whole lines at the end of a file; none where it cannot be read. */
async function lastLines(path: string): Promise<string[]> {
  let handle: FileHandle | undefined;
  try {
    handle = await open(path, 'r');
    const { size } = await handle.stat();
    const bytes = Buffer.alloc(Math.min(tail, size));
    const { bytesRead } = await handle.read(bytes, 0, bytes.length, size - bytes.length);
    const lines = bytes.subarray(0, bytesRead).toString('utf8').split(/\r?\n/);
    // What it begins with was cut off, and what it ends with may not be whole yet.
    return lines
      .slice(size > bytes.length ? 1 : 0, -1)
      .slice(-mostLines)
      .map((line) => line.slice(0, longestLine));
  } catch {
    return [];
  } finally {
    await handle?.close();
  }
}
