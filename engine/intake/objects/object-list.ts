import { createHash } from 'node:crypto';
import { readdir, realpath, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { array, number, object, string } from 'yup';
import type { SourceBounds } from '../../sources/source-bounds.ts';
import { askFor } from './fetch-object.ts';
import type { ListedObject } from './listed-object.ts';

/** Longest list, in bytes and in objects. */
const mostListBytes = 20_000_000;
const mostObjects = 100_000;

const objectName = string()
  .required()
  .max(1_024)
  .test('path', 'the name of an object leads out of its list', (text) => !/(^|\/)\.\.?(\/|$)/.test(text ?? ''));

const listing = object({
  objects: array(
    object({
      name: objectName,
      version: string().defined().max(1_024).default(''),
      size: number().min(0).default(0),
    }),
  )
    .max(mostObjects)
    .required(),
});

/** Objects sorted by name, and the digest of the list they come from; folders have none. */
export interface ObjectList {
  readonly objects: readonly ListedObject[];
  readonly digest?: string;
}

/**
 * Lists the objects at an address. Returns `before` itself if the list has not changed, without parsing it again. Throws if
 * they cannot be listed.
 */
export async function listObjectsAt(url: string, bounds: SourceBounds, before?: ObjectList): Promise<ObjectList> {
  const address = new URL(url);
  await bounds.checkAddress(address);
  if (address.protocol === 'file:') return { objects: byName(await listFolder(fileURLToPath(address), bounds)) };
  const bytes = await listOver(address);
  const digest = createHash('sha256').update(bytes).digest('base64');
  if (before?.digest === digest) return before;
  return { objects: byName((await listing.validate(JSON.parse(bytes.toString('utf8')))).objects), digest };
}

function byName(objects: ListedObject[]): readonly ListedObject[] {
  return objects.sort((a, b) => (a.name < b.name ? -1 : 1));
}

async function listOver(address: URL): Promise<Buffer> {
  const chunks: Uint8Array[] = [];
  let size = 0;
  for await (const chunk of await askFor(address)) {
    size += chunk.length;
    if (size > mostListBytes) throw new Error(`the list is longer than ${mostListBytes / 1e6} MB`);
    chunks.push(chunk);
  }
  return Buffer.concat(chunks);
}

async function listFolder(folder: string, bounds: SourceBounds): Promise<ListedObject[]> {
  const names = (await readdir(folder, { recursive: true })).slice(0, mostObjects);
  const all = await Promise.all(names.map((name) => listFile(folder, name, bounds)));
  // Links make the same file known by many names, without end where one leads back to its own folder.
  const byPlace = new Map<string, ListedObject>();
  for (const { real, object } of all.flatMap((found) => found ?? [])) {
    const before = byPlace.get(real);
    if (!before || object.name.length < before.name.length) byPlace.set(real, object);
  }
  return [...byPlace.values()];
}

/** A file of a folder and where it really is; undefined for what is none, may not be read, or goes in this moment. */
async function listFile(folder: string, name: string, bounds: SourceBounds) {
  const path = join(folder, name);
  const real = await realpath(path).catch(() => undefined);
  if (real === undefined || !bounds.allowsFile(real)) return undefined;
  const facts = await stat(real).catch(() => undefined);
  if (!facts?.isFile()) return undefined;
  return { real, object: { name, version: String(Math.floor(facts.mtimeMs)), size: facts.size } };
}
