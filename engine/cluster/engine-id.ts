import { randomUUID } from 'node:crypto';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/**
 * The name of the engine that keeps its things in a folder and listens on a port: no other engine has the same, and it has
 * it again when it is started anew, so that it need not wait for what its last run was doing.
 */
export async function engineId(folder: string, port: number): Promise<string> {
  const file = join(folder, 'engine-id');
  await mkdir(folder, { recursive: true });
  // Of several engines that begin at once the first one counts.
  await writeFile(file, randomUUID(), { flag: 'wx' }).catch(() => {});
  const id = (await readFile(file, 'utf8')).trim();
  return `${id.slice(0, 36)}:${port}`;
}
