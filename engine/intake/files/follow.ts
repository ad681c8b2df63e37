import { type FileHandle, open, stat } from 'node:fs/promises';
import { promisify } from 'node:util';
import { gunzip } from 'node:zlib';
import type { Logger } from 'pino';
import { glob } from 'tinyglobby';
import type { FormatChoice } from '#core/formats/index.ts';
import { compileJoinRule } from '#core/formats/join.ts';
import type { Database } from '#store/database.ts';
import { type FilePosition, listPositions } from '#store/positions.ts';
import type { Source } from '#store/sources.ts';
import { repeat } from '../repeat.ts';
import type { Delivery } from './delivery.ts';
import {
  beginsAs,
  type FileSeen,
  fingerprintBytes,
  identityOf,
  readIdentity,
  recognise,
  writeIdentity,
} from './file-identity.ts';
import type { IntakeQueue } from './queue.ts';
import type { Senders } from './senders.ts';
import type { TapeRate } from './tape-rate.ts';

/** Bytes of a file that are sent on together. */
const chunkBytes = 1_000_000;
/** Between two looks at the files, in milliseconds. */
const pause = 400;
/** A last line without a line feed, or a record that may go on, is sent when the file rested this long (milliseconds). */
const restTime = 2_000;
/** Packed files up to this size, unpacked, are read. */
const maxUnpackedBytes = 1_000_000_000;

export interface FilesSetting {
  readonly queue: IntakeQueue;
  readonly senders: Senders;
  readonly tapeRate: TapeRate;
  readonly database: Database;
  readonly log: Logger;
}

/** A file with what is needed to read on in it. */
interface OpenFile extends FileSeen {
  readonly size: number;
  readonly changedAt: number;
  /** The unpacked content of a packed file. */
  readonly unpacked?: Uint8Array;
}

const unpack = promisify(gunzip);

/** Follows the files of all sources that name some. Positions are committed with the events that were read up to them. */
export function followFiles(setting: FilesSetting): { readonly stop: () => void } {
  return repeat(pause, setting.log, async () => {
    const sources = setting.senders.sourcesOfKind('files').filter(({ settings }) => !settings.paused);
    await Promise.all(sources.map((source) => followSource(setting, source)));
  });
}

const packedFiles = new Map<string, { readonly changedAt: number; readonly content: Uint8Array }>();

async function followSource(setting: FilesSetting, source: Source): Promise<void> {
  const files = await seeFiles(source);
  for (const file of files) await followFile(setting, source, file, files);
}

/** What reading the files of a source from their beginnings would deliver. Nothing is noted: they are followed as before. */
export async function* filesAgain(senders: Senders, source: Source): AsyncIterable<Delivery> {
  const files = await seeFiles(source);
  for (const [index, file] of files.entries()) {
    // Of a file that is there twice, such as a copy that is being packed, only the first is read.
    if (files.slice(0, index).some(({ beginning }) => Buffer.compare(beginning, file.beginning) === 0)) continue;
    for (let offset = 0; offset < file.size; ) {
      const bytes = await bytesAt(file, offset);
      const length = completeLength(bytes, source, offset + bytes.length >= file.size);
      if (length === 0) break;
      yield { ...senders.deliveryOf(source), ...pieceOf(source, bytes.subarray(0, length)), tapeEvery: 1 };
      offset += length;
    }
  }
}

/** The files that a source names as they lie there now, what was written first before what followed. */
async function seeFiles(source: Source): Promise<readonly OpenFile[]> {
  const paths = await glob([...(source.settings.globs ?? [])], { absolute: true, onlyFiles: true });
  const files = (await Promise.all(paths.slice(0, 1_000).map(seeFile))).filter((file) => file !== undefined);
  return files.sort((a, b) => a.changedAt - b.changedAt);
}

async function bytesAt(file: OpenFile, offset: number): Promise<Uint8Array> {
  return file.unpacked?.subarray(offset, offset + chunkBytes) ?? (await readPart(file.path, offset, chunkBytes));
}

/** The parts of a delivery that a piece of a file makes up. */
function pieceOf(source: Source, bytes: Uint8Array) {
  return {
    source: source.name,
    shape: 'lines',
    format: source.format as FormatChoice,
    gzip: false,
    chunks: [bytes],
    received: Date.now(),
    backfill: false,
  } as const;
}

async function seeFile(path: string): Promise<OpenFile | undefined> {
  try {
    const { dev, ino, size, mtimeMs } = await stat(path);
    const place = `${dev}-${ino}`;
    if (!path.endsWith('.gz')) {
      return { path, place, size, changedAt: mtimeMs, beginning: await readPart(path, 0, fingerprintBytes) };
    }
    const content = await unpacked(path, mtimeMs);
    return (
      content && {
        path,
        place,
        size: content.length,
        changedAt: mtimeMs,
        unpacked: content,
        beginning: content.subarray(0, fingerprintBytes),
      }
    );
  } catch {
    // It was moved away or packed in this moment: the next look finds it under its new name.
    return undefined;
  }
}

/** A packed file's content; files that are still being written are no gzip yet and are looked at again later. */
async function unpacked(path: string, changedAt: number): Promise<Uint8Array | undefined> {
  const held = packedFiles.get(path);
  if (held?.changedAt === changedAt) return held.content;
  const packed = await readPart(path, 0, maxUnpackedBytes);
  const content = await unpack(packed, { maxOutputLength: maxUnpackedBytes }).catch(() => undefined);
  if (!content) return undefined;
  if (packedFiles.size > 20) packedFiles.clear();
  packedFiles.set(path, { changedAt, content });
  return content;
}

async function readPart(path: string, from: number, length: number): Promise<Uint8Array> {
  let handle: FileHandle | undefined;
  try {
    handle = await open(path, 'r');
    const { size } = await handle.stat();
    const buffer = Buffer.alloc(Math.max(0, Math.min(length, size - from)));
    const { bytesRead } = await handle.read(buffer, 0, buffer.length, from);
    return buffer.subarray(0, bytesRead);
  } finally {
    await handle?.close();
  }
}

async function followFile(
  setting: FilesSetting,
  source: Source,
  file: OpenFile,
  files: readonly OpenFile[],
): Promise<void> {
  if (file.beginning.length === 0) return;
  let positions = await listPositions(setting.database, source.name);
  const recognised = recognise(file, positions, files);
  if (recognised.kind === 'copy') return;
  let position = recognised.kind === 'known' ? recognised.position : undefined;
  while (position === undefined || position.offset < file.size) {
    const offset = position?.offset ?? 0;
    const bytes = await bytesAt(file, offset);
    // The file may have been replaced since it was recognised: what was read must be of the same file.
    if (position && !file.unpacked && !(await stillThere(file.path, position))) return;
    const rested = file.unpacked !== undefined || Date.now() - file.changedAt > restTime;
    const last = offset + bytes.length >= file.size;
    const length = completeLength(bytes, source, rested && last);
    if (length === 0) return;
    const sent = await send(setting, source, file, position, offset, bytes.subarray(0, length));
    if (!sent) return;
    positions = await listPositions(setting.database, source.name);
    position = positions.find((candidate) => candidate.identity === sent);
    if (!position) return;
  }
}

async function stillThere(path: string, position: FilePosition): Promise<boolean> {
  const identity = readIdentity(position.identity);
  try {
    return beginsAs(identity, await readPart(path, 0, fingerprintBytes));
  } catch {
    return false;
  }
}

/** How many bytes make up whole lines, and whole records where lines are joined; all of them when nothing will follow. */
function completeLength(bytes: Uint8Array, { settings }: Source, all: boolean): number {
  if (all) return bytes.length;
  let end = bytes.lastIndexOf(10) + 1;
  // A line that fills a whole chunk is cut: it is longer than a record may be.
  if (end === 0) return bytes.length >= chunkBytes ? bytes.length : 0;
  if (!settings.join) return end;
  const continues = compileJoinRule(settings.join);
  const whole = end;
  while (end > 0) {
    const start = bytes.lastIndexOf(10, end - 2) + 1;
    const goesOn = continues(bytes, start, end - 1);
    end = start;
    if (!goesOn) break;
  }
  return end === 0 && bytes.length >= chunkBytes ? whole : end;
}

/** Sends a piece of a file on and waits until it is stored; returns the identity under which its position is known. */
async function send(
  setting: FilesSetting,
  source: Source,
  file: OpenFile,
  position: FilePosition | undefined,
  offset: number,
  bytes: Uint8Array,
): Promise<string | undefined> {
  const { queue, senders, tapeRate } = setting;
  const end = offset + bytes.length;
  const known = position && readIdentity(position.identity);
  const enough = known && known.length >= Math.min(fingerprintBytes, end) && known.place === file.place;
  const beginning = file.beginning.length >= Math.min(fingerprintBytes, end) ? file.beginning.subarray(0, end) : bytes;
  const identity = enough ? (position as FilePosition).identity : writeIdentity(identityOf(file.place, beginning));
  const piece = pieceOf(source, bytes);
  const delivery: Delivery = {
    ...senders.deliveryOf(source),
    ...piece,
    key: `file ${source.settings.rewoundAt ?? 0} ${position?.identity ?? identity} ${offset}`,
    tapeEvery: tapeRate.every(source.name, piece.received, Math.ceil(bytes.length / 200)),
    progress: {
      kind: 'file',
      source: source.name,
      identity,
      path: file.path.slice(-500),
      offset: end,
      changedAt: piece.received,
      ...(position && position.identity !== identity && { replaces: position.identity }),
    },
  };
  await queue.room();
  const stored = await new Promise<boolean>((resolve) => {
    const answer = (): void => resolve(true);
    if (!queue.offer({ delivery, bytes: bytes.length, answer, storeAway: () => true })) resolve(false);
  });
  return stored ? identity : undefined;
}
