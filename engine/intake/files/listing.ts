import { stat } from 'node:fs/promises';
import { dirname } from 'node:path';
import { glob, isDynamicPattern } from 'tinyglobby';

/** Most files of a source that are followed. */
export const mostFiles = 1_000;

/** The files that the patterns of a source name, as they lie there now. */
export async function listFiles(globs: readonly string[]): Promise<readonly string[]> {
  const paths = await glob([...globs], { absolute: true, onlyFiles: true, cwd: baseOf(globs) });
  return paths.sort().slice(0, mostFiles);
}

/** The folder that all patterns look below; it is where the looking begins, which is from the root of the disk otherwise. */
function baseOf(globs: readonly string[]): string {
  const paths = globs.filter((pattern) => !pattern.startsWith('!')).map((pattern) => dirname(pattern).split('/'));
  const [first = ['']] = paths;
  const differs = first.findIndex((name, i) => /[^\w .-]/.test(name) || paths.some((path) => path[i] !== name));
  return (differs < 0 ? first : first.slice(0, differs)).join('/') || '/';
}

/** However little seems to change, files are listed again after this time: what a link leads to may be another, and clocks err (milliseconds). */
const listAgainAfter = 5_000;
/** A folder that changed so shortly before it was looked at may have changed since, in the same tick of its clock (milliseconds). */
const tick = 100;

/**
 * The files of a source, listed only when there may be others than before: looking through folders several times a second is most of
 * what an engine at rest has to do. Where the folders of all patterns are known, their times tell.
 */
export class Listing {
  /** The folders in which the patterns look for files; undefined where that takes looking through others. */
  private readonly folders: readonly string[] | undefined;
  /** Patterns that name one thing. Where that is a folder, everything below it is meant. */
  private readonly names: readonly string[];
  private listedAt = Number.NEGATIVE_INFINITY;
  private state: string | undefined;

  constructor(private readonly globs: readonly string[]) {
    const folders = new Set(globs.map((pattern) => dirname(pattern)));
    const looksFurther = globs.some((pattern) => isDynamicPattern(dirname(pattern)) || /^!|\*\*/.test(pattern));
    this.folders = looksFurther ? undefined : [...folders];
    this.names = globs.filter((pattern) => !isDynamicPattern(pattern));
  }

  /** The files as they lie there now; undefined where they are the same as when it was last asked. */
  async changed(): Promise<readonly string[] | undefined> {
    const state = await this.look();
    const isSame = state !== undefined && state === this.state && Date.now() - this.listedAt < listAgainAfter;
    if (isSame) return undefined;
    this.state = state;
    this.listedAt = Date.now();
    return await listFiles(this.globs);
  }

  /** Has files be listed the next time, whatever seems to have changed. */
  forget(): void {
    this.state = undefined;
  }

  /** When each folder last changed; undefined where that does not tell whether it will be the same. */
  private async look(): Promise<string | undefined> {
    if (!this.folders) return undefined;
    const [folders, named] = await Promise.all([statAll(this.folders), statAll(this.names)]);
    const now = Date.now();
    if (folders.some((found) => found && now - found.mtimeMs < tick)) return undefined;
    if (named.some((found) => found?.isDirectory())) return undefined;
    return folders.map((found) => (found ? `${found.dev}-${found.ino}-${found.mtimeMs}` : '')).join(' ');
  }
}

function statAll(paths: readonly string[]) {
  return Promise.all(paths.map((path) => stat(path).catch(() => undefined)));
}
