import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import type { Logger } from 'pino';
import { array, number, object, string } from 'yup';
import { decode, encode } from '#core/events/text-table.ts';
import { csvColumns } from '#core/formats/csv-columns.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { compileTemplate } from '#core/templates/template.ts';
import type { Database } from '#store/database.ts';
import { listObjects, type PickedObject, saveProgress } from '#store/positions.ts';
import type { Source } from '#store/sources.ts';
import { repeat } from '../repeat.ts';
import type { Delivery } from './delivery.ts';
import type { IntakeQueue } from './queue.ts';
import type { Senders } from './senders.ts';
import type { TapeRate } from './tape-rate.ts';

/** Between two looks at the lists of objects, in milliseconds. */
const pause = 2_000;
/** Largest object, packed and unpacked. */
const maxObjectBytes = 200_000_000;
/** Lines of an object that are committed together. */
const linesPerDelivery = 5_000;

export interface ObjectsSetting {
  readonly queue: IntakeQueue;
  readonly senders: Senders;
  readonly tapeRate: TapeRate;
  readonly database: Database;
  readonly log: Logger;
}

/** An object as a list names it. An object that is written again has another version. */
interface ListedObject {
  readonly name: string;
  readonly version: string;
  readonly size: number;
}

const listing = object({
  objects: array(
    object({ name: string().required(), version: string().defined().default(''), size: number().default(0) }),
  ).required(),
});

const unpack = promisify(gunzip);

/** Picks up new objects of all sources that name a list of them, each object exactly once. */
export function pickUpObjects(setting: ObjectsSetting): { readonly stop: () => void } {
  // A list that cannot be had is told when that begins, not every time it is asked for.
  const failing = new Set<string>();
  return repeat(pause, setting.log, async () => {
    for (const source of setting.senders.sourcesOfKind('objects')) {
      const { name, settings } = source;
      if (settings.paused || !settings.url) continue;
      try {
        await pickUpFrom(setting, source, settings.url);
        failing.delete(name);
      } catch (error) {
        if (!failing.has(name))
          setting.log.warn({ err: error }, `The objects of ${name} could not be listed; it is tried again.`);
        failing.add(name);
      }
    }
  });
}

async function pickUpFrom(setting: ObjectsSetting, source: Source, url: string): Promise<void> {
  const listed = await listAt(url);
  const known = new Map((await listObjects(setting.database, source.name)).map((row) => [row.identity, row]));
  for (const each of byName(listed)) {
    const identity = `${each.name} ${each.version}`.slice(-400);
    const before = known.get(identity);
    if (before?.done) continue;
    await pickUp(setting, source, url, each, identity, before).catch(async (error: unknown) => {
      const problem = error instanceof Error ? error.message : String(error);
      await giveUp(setting, source, identity, before, problem);
    });
  }
}

/** An object that cannot be read is noted with the reason and not tried again until it is written anew. */
async function giveUp(
  { database }: ObjectsSetting,
  source: Source,
  identity: string,
  before: PickedObject | undefined,
  problem: string,
): Promise<void> {
  const records = before?.records ?? 0;
  const row = { source: source.name, identity, records, done: true, problem: problem.slice(0, 500), at: Date.now() };
  await saveProgress(database.db, [{ kind: 'object', ...row }]);
}

async function listAt(url: string): Promise<ListedObject[]> {
  if (url.startsWith('file:')) return await listFolder(fileURLToPath(url));
  const answer = await fetch(url, { signal: AbortSignal.timeout(30_000) });
  if (!answer.ok) throw new Error(`${url} answered ${answer.status}`);
  return (await listing.validate(await answer.json())).objects;
}

async function listFolder(folder: string): Promise<ListedObject[]> {
  const names = await readdir(folder, { recursive: true });
  const all = await Promise.all(
    names.map(async (name): Promise<ListedObject[]> => {
      const facts = await stat(join(folder, name));
      return facts.isFile() ? [{ name, version: String(Math.floor(facts.mtimeMs)), size: facts.size }] : [];
    }),
  );
  return all.flat();
}

async function contentOf(url: string, { name, size }: ListedObject): Promise<Uint8Array> {
  if (size > maxObjectBytes) throw new Error(`longer than ${maxObjectBytes / 1e6} MB`);
  let bytes: Uint8Array;
  if (url.startsWith('file:')) bytes = await readFile(join(fileURLToPath(url), name));
  else {
    const address = `${url.replace(/\/?$/, '/')}${name.split('/').map(encodeURIComponent).join('/')}`;
    const answer = await fetch(address, { signal: AbortSignal.timeout(60_000) });
    if (!answer.ok) throw new Error(`${address} answered ${answer.status}`);
    bytes = new Uint8Array(await answer.arrayBuffer());
  }
  const isPacked = bytes[0] === 0x1f && bytes[1] === 0x8b;
  return isPacked ? await unpack(bytes, { maxOutputLength: maxObjectBytes }) : bytes;
}

/** What reading the objects of a source anew would deliver. Nothing is noted: what was picked up stays picked up. */
export async function* objectsAgain(senders: Senders, source: Source): AsyncIterable<Delivery> {
  const { url } = source.settings;
  if (!url) return;
  for (const each of byName(await listAt(url))) {
    const read = await recordsOf(source, url, each).catch(() => undefined);
    // One that cannot be read was noted with the reason when it was to be picked up.
    if (!read) continue;
    const { records, columns, labels } = read;
    for (let at = 0; at < records.length; at += linesPerDelivery) {
      const piece = pieceOf(source, joined(records.slice(at, at + linesPerDelivery)), columns);
      yield { ...senders.deliveryOf(source), ...piece, labels, tapeEvery: 1 };
    }
  }
}

function byName(objects: readonly ListedObject[]): readonly ListedObject[] {
  return [...objects].sort((a, b) => (a.name < b.name ? -1 : 1));
}

interface ObjectRecords {
  readonly records: readonly Uint8Array[];
  /** For an object of separated values, as its first line names them. */
  readonly columns: readonly string[] | undefined;
  readonly labels: Readonly<Record<string, string>>;
}

async function recordsOf(source: Source, url: string, listed: ListedObject): Promise<ObjectRecords> {
  const lines = linesOf(await contentOf(url, listed));
  const isCsv = /\.csv(\.gz)?$/i.test(listed.name);
  const columns = isCsv ? csvColumns(lines.slice(0, 200).map((line) => decode(line, 0, line.length))) : undefined;
  const labels = { ...labelsFrom(listed.name, source.settings.path), object: listed.name.slice(-200) };
  return { records: isCsv ? lines.slice(1) : lines, columns, labels };
}

/** The parts of a delivery that some records of an object make up. */
function pieceOf(source: Source, bytes: Uint8Array, columns: readonly string[] | undefined) {
  return {
    source: source.name,
    shape: 'lines',
    format: (columns ? 'text' : source.format) as FormatChoice,
    gzip: false,
    chunks: [bytes],
    received: Date.now(),
    backfill: false,
    ...(columns && { columns }),
  } as const;
}

/** Sends an object on, some thousand lines at a time; what was stored of it before is not sent again. */
async function pickUp(
  setting: ObjectsSetting,
  source: Source,
  url: string,
  listed: ListedObject,
  identity: string,
  before: PickedObject | undefined,
): Promise<void> {
  const { records, columns, labels } = await recordsOf(source, url, listed);
  let at = before?.records ?? 0;
  do {
    const end = Math.min(records.length, at + linesPerDelivery);
    const chunk = joined(records.slice(at, end));
    await deliver(setting, pieceOf(source, chunk, columns), source, {
      key: `object ${source.settings.rewoundAt ?? 0} ${identity} ${at}`.slice(-200),
      labels,
      progress: {
        kind: 'object',
        source: source.name,
        identity,
        records: end,
        done: end === records.length,
        problem: '',
        at: Date.now(),
      },
    });
    at = end;
  } while (at < records.length);
}

function linesOf(bytes: Uint8Array): Uint8Array[] {
  const lines: Uint8Array[] = [];
  for (let start = 0; start < bytes.length; ) {
    let end = bytes.indexOf(10, start);
    if (end < 0) end = bytes.length;
    const last = bytes[end - 1] === 13 ? end - 1 : end;
    if (last > start) lines.push(bytes.subarray(start, last));
    start = end + 1;
  }
  return lines;
}

function joined(lines: readonly Uint8Array[]): Uint8Array {
  return Buffer.concat(lines.flatMap((line) => [line, Uint8Array.of(10)]));
}

/** Fields that a line template takes out of an object's name; none where it does not fit. */
function labelsFrom(name: string, path: string | undefined): Readonly<Record<string, string>> {
  const compiled = path ? compileTemplate(path) : undefined;
  if (!compiled?.ok) return {};
  const { holes, match } = compiled.template;
  const bytes = encode(name);
  const spans = new Int32Array(holes.length * 2);
  if (match(bytes, 0, bytes.length, spans) >= 0) return {};
  return Object.fromEntries(
    holes.flatMap((hole, i) => {
      const start = spans[i * 2] as number;
      return hole.name === '' || start < 0 ? [] : [[hole.name, decode(bytes, start, spans[i * 2 + 1] as number)]];
    }),
  );
}

async function deliver(
  { queue, senders, tapeRate }: ObjectsSetting,
  piece: ReturnType<typeof pieceOf>,
  source: Source,
  parts: Pick<Delivery, 'labels' | 'progress'> & { readonly key: string },
): Promise<void> {
  const bytes = piece.chunks[0].length;
  const tapeEvery = tapeRate.every(source.name, piece.received, Math.ceil(bytes / 200));
  const delivery: Delivery = { ...senders.deliveryOf(source), ...piece, ...parts, tapeEvery };
  for (;;) {
    await queue.room();
    const stored = await new Promise<boolean>((resolve) => {
      const answer = (): void => resolve(true);
      if (!queue.offer({ delivery, bytes, answer, storeAway: () => true })) resolve(false);
    });
    if (stored) return;
  }
}
