import { randomUUID } from 'node:crypto';
import type { FormatChoice } from '#core/formats/index.ts';
import { compileJoinRule } from '#core/formats/join.ts';
import { guardLease, type Lease, LeaseLost } from '#store/cluster/leases.ts';
import { StoreFault } from '#store/fault.ts';
import { type FilePosition, forgetPositions, listPositions, savePosition } from '#store/sources/positions.ts';
import type { Source } from '#store/sources/sources.ts';
import { type Repeated, repeat } from '../../base/repeat.ts';
import { leaseNames } from '../../cluster/leases.ts';
import type { Delivery } from '../../deliveries/delivery.ts';
import type { SourceBounds } from '../../sources/source-bounds.ts';
import type { SourceDirectory } from '../../sources/source-directory.ts';
import { handInPatiently } from '../hand-in.ts';
import { fewBytes } from '../queue.ts';
import type { ReaderSetting } from '../reader-setting.ts';
import { Unreadable } from './content.ts';
import { fingerprintBytes, goesOnFrom, hashOf, markAt, reaches, withMark } from './identity.ts';
import { Listing, listFiles } from './listing.ts';
import { closeFile, look, type OpenFile, openFile, unpackedSize } from './open-file.ts';
import { recognise } from './recognise.ts';

/** Bytes of a file that are sent on together. */
const chunkBytes = 1_000_000;
/** Between two looks at the files, in milliseconds. */
const pause = 500;
/** How long files are read before it is looked again what files there are, in milliseconds. */
const turnTime = 1_000;
/** A last line without a line feed, or a record that may go on, is sent when the file rested this long (milliseconds). */
const restTime = 2_000;
/** A file that was moved out of sight is let go when it has been read and rested this long (milliseconds). */
const unseenTime = 60_000;
/** A packed file that cannot be unpacked is reported when it rested this long (milliseconds). */
const brokenAfter = 30_000;

/** Follows the files of all sources that name some. Positions are committed with the events that were read up to them. */
export function followFiles(setting: ReaderSetting): Repeated {
  const followers = new Map<string, Follower>();
  return repeat(pause, setting.log, async () => {
    const { directory, leases } = setting;
    const sources = directory
      .sourcesOfKind('files')
      .filter(({ name }) => !directory.isPaused(name) && leases.get(leaseNames.reading(name)));
    const named = new Map(sources.map((source) => [source.name, source]));
    for (const [name, follower] of followers) {
      const source = named.get(name);
      if (source && follower.isFor(source)) continue;
      followers.delete(name);
      await follower.close();
    }
    // All are waited for, whatever becomes of one: nobody reads in a file twice at once.
    const rounds = await Promise.allSettled(
      sources.map(async (source) => {
        const lease = leases.get(leaseNames.reading(source.name));
        if (!lease) return;
        let follower = followers.get(source.name);
        if (!follower) followers.set(source.name, (follower = new Follower(setting, source, lease)));
        await follower.round(source);
      }),
    );
    for (const round of rounds) if (round.status === 'rejected') throw round.reason;
  });
}

/** Follows the files of one source: each stays open from when it is first seen until it is read and gone. */
class Follower {
  private readonly files = new Map<string, OpenFile>();
  /** Positions that no open file goes on from; undefined before they were read. */
  private free: FilePosition[] | undefined;
  private readonly since: number;
  private readonly globs: string;
  private readonly listing: Listing;
  private isSuperseded = false;

  constructor(
    private readonly setting: ReaderSetting,
    private source: Source,
    private readonly lease: Lease,
  ) {
    this.since = setting.directory.rewoundAt(source.name);
    this.globs = JSON.stringify(source.settings.globs);
    this.listing = new Listing(source.settings.globs ?? []);
  }

  /**
   * Whether the follower can go on: the source names the same files, and neither was it read again meanwhile nor read by
   * another engine.
   */
  isFor(source: Source): boolean {
    const { directory, leases } = this.setting;
    return (
      !this.isSuperseded &&
      leases.get(this.lease.name)?.token === this.lease.token &&
      JSON.stringify(source.settings.globs) === this.globs &&
      directory.rewoundAt(source.name) === this.since
    );
  }

  async close(): Promise<void> {
    for (const file of this.files.values()) await closeFile(file);
    this.files.clear();
  }

  /** Looks at all files, and reads on in them for a while. */
  async round(source: Source): Promise<void> {
    this.source = source;
    this.free ??= [...(await listPositions(this.setting.database, source.name))];
    await this.openFiles();
    for (const file of this.files.values()) await this.attend(file, () => this.lookAgain(file));
    const until = Date.now() + turnTime;
    for (const file of this.inOrder()) {
      if (this.isSuperseded) return;
      await this.attend(file, async () => {
        if (!file.isKnown) await this.recogniseFile(file);
        if (file.isKnown && !isReadToItsEnd(file)) await this.read(file, until);
      });
    }
    await this.letGo();
  }

  /** Does something with a file; one that cannot be read any more is let go, and holds up no other. */
  private async attend(file: OpenFile, work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      if (error instanceof StoreFault || error instanceof LeaseLost) throw error;
      const reason = error instanceof Error && 'code' in error ? String(error.code) : 'it cannot be read';
      this.setting.log.warn(`${file.path} of ${this.source.name} is let go for now: ${reason}.`);
      this.files.delete(file.place);
      this.listing.forget();
      if (file.position) this.free?.push(file.position);
      await closeFile(file);
    }
  }

  private async openFiles(): Promise<void> {
    const { bounds } = this.setting;
    const paths = await this.listing.changed();
    if (!paths) return;
    for (const file of this.files.values()) file.isListed = false;
    for (const path of paths) {
      const file = await openFile(path, (real) => bounds.allowsFile(real));
      if (!file) continue;
      const known = this.files.get(file.place);
      if (!known) this.files.set(file.place, file);
      else {
        await closeFile(file);
        known.path = path;
        known.isListed = true;
      }
    }
  }

  private inOrder(): readonly OpenFile[] {
    return [...this.files.values()].sort((a, b) => a.changedAt - b.changedAt);
  }

  /** A file that is not what was read of it any more was truncated: its position is free for a copy, and it begins anew. */
  private async lookAgain(file: OpenFile): Promise<void> {
    const before = file.size;
    const changedBefore = file.changedAt;
    await look(file);
    const { position } = file;
    if (!file.isKnown || !position) return;
    if (file.size === before && file.changedAt === changedBefore) return;
    if (!file.isPacked && file.size >= position.offset && (await goesOnFrom(file.content, position))) return;
    this.free?.push(position);
    file.position = undefined;
    file.isKnown = false;
  }

  private async recogniseFile(file: OpenFile): Promise<void> {
    const size = file.isPacked ? await unpackedSize(file) : file.size;
    if (size === undefined) {
      if (Date.now() - file.changedAt > brokenAfter) await this.tell(file, 'It cannot be unpacked, and is not read.');
      return;
    }
    if (size === 0) return;
    const free = this.free ?? [];
    const recognised = await recognise(file, { size, free, others: [...this.files.values()], now: Date.now() });
    if (recognised.kind === 'unclear') return;
    // What was said of it while it could not be read is no longer so.
    if (file.position) await forgetPositions(this.setting.database.db, this.source.name, file.position.file);
    file.isKnown = true;
    if (recognised.kind === 'known') {
      file.position = recognised.position;
      this.free = free.filter((position) => position !== recognised.position);
    } else if (recognised.kind === 'copy') {
      await this.noteCopy(file, size, recognised.of);
    } else {
      file.position = recognised.from > 0 || recognised.note !== '' ? await this.begin(file, recognised) : undefined;
    }
  }

  /** Notes a file of which nothing is read, since it is the same as another one that was. */
  private async noteCopy(file: OpenFile, size: number, of: OpenFile): Promise<void> {
    const note = `It is the same as ${of.path}, byte by byte, and is not read a second time.`;
    file.position = await this.begin(file, { from: size, note });
    await this.note(file.position);
  }

  /** The position of a file that is read from somewhere on. */
  private async begin(file: OpenFile, { from, note }: { from: number; note: string }): Promise<FilePosition> {
    const head = await file.content.read(0, Math.min(fingerprintBytes, from));
    const before = await file.content.read(Math.max(0, from - fingerprintBytes), Math.min(fingerprintBytes, from));
    return {
      source: this.source.name,
      file: randomUUID(),
      place: file.place,
      path: file.path,
      offset: from,
      headLength: head.length,
      headHash: hashOf(head),
      marks: from > 0 ? [markAt(from, before)] : [],
      note,
      changedAt: Date.now(),
    };
  }

  /** Says something about a file of which nothing is read, once. */
  private async tell(file: OpenFile, note: string): Promise<void> {
    if (file.position?.note === note) return;
    file.position = await this.begin(file, { from: 0, note }).catch(() => undefined);
    if (file.position) await this.note(file.position);
  }

  /** Notes a position of which no event was read, unless another engine follows the files by now. */
  private async note(position: FilePosition): Promise<void> {
    await this.setting.database.db.transaction(async (tx) => {
      await guardLease(tx, this.lease);
      await savePosition(tx, position);
    });
  }

  /** Sends on what is new in a file, until there is no more of it or the turn is over. */
  private async read(file: OpenFile, until: number): Promise<void> {
    if (file.isPacked && file.readAt > 0) return;
    do {
      const offset = file.position?.offset ?? 0;
      const bytes = await this.bytesAt(file, offset);
      if (!bytes) return;
      const rested = file.isPacked || Date.now() - file.changedAt > restTime;
      const isLast = bytes.length < chunkBytes;
      const isWhole = rested && isLast && (file.isPacked || (await this.endsAt(file, offset + bytes.length)));
      const length = completeLength(bytes, this.source, isWhole);
      if (length === 0) {
        if (isLast && bytes.length === 0) file.readAt ||= Date.now();
        return;
      }
      // What is written to a file by and by is stored by and by.
      const trickles = file.readAt > 0 && length < fewBytes;
      file.readAt = 0;
      if (!(await this.send(file, offset, bytes.subarray(0, length), trickles))) return;
    } while (Date.now() < until);
  }

  /** Whether nothing has been written behind a place since the file was looked at. */
  private async endsAt(file: OpenFile, end: number): Promise<boolean> {
    return (await file.handle.stat()).size === end;
  }

  /** What comes next in a file; undefined where that cannot be read, or the file was truncated in this moment. */
  private async bytesAt(file: OpenFile, offset: number): Promise<Uint8Array | undefined> {
    try {
      const bytes = await file.content.read(offset, chunkBytes);
      const { position } = file;
      if (!file.isPacked && position && bytes.length > 0 && !(await reaches(file.content, position))) return undefined;
      return bytes;
    } catch (error) {
      if (!(error instanceof Unreadable)) throw error;
      await this.tell(file, 'It cannot be unpacked to its end; what could be was read.');
      return undefined;
    }
  }

  /** Sends a piece of a file on and waits until it is stored. */
  private async send(file: OpenFile, offset: number, bytes: Uint8Array, lingers: boolean): Promise<boolean> {
    const { queue, directory, tapeRate } = this.setting;
    const { source } = this;
    const before = file.position ?? (await this.begin(file, { from: 0, note: '' }));
    const next = await this.advanced(file, before, offset, bytes);
    const piece = pieceOf(source, bytes);
    const delivery: Delivery = {
      ...directory.deliveryOf(source),
      ...piece,
      key: `file ${this.since} ${before.file} ${offset}`,
      tapeEvery: tapeRate.every(source.name, piece.received, Math.ceil(bytes.length / 200)),
      progress: { kind: 'file', ...next, lease: { name: this.lease.name, token: this.lease.token } },
    };
    // A key belongs to the file from the first attempt on, though it may not be known whether that was committed.
    file.position = before;
    const answer = await handInPatiently(queue, { delivery, bytes: bytes.length, lingers });
    this.isSuperseded ||= answer.kind === 'superseded';
    if (!this.isSuperseded) file.position = next;
    else void this.setting.leases.look();
    return !this.isSuperseded;
  }

  /** The position behind some bytes that were read at `from`. It is marked by those very bytes: the file may be another by now. */
  private async advanced(
    file: OpenFile,
    position: FilePosition,
    from: number,
    bytes: Uint8Array,
  ): Promise<FilePosition> {
    const offset = from + bytes.length;
    const missing = Math.max(0, Math.min(fingerprintBytes, offset) - bytes.length);
    const before = missing > 0 ? await file.content.read(from - missing, missing) : new Uint8Array(0);
    const tail = Buffer.concat([before, bytes.subarray(-fingerprintBytes)]);
    // The head grows with the file until it is as long as heads are.
    const isShort = position.headLength < fingerprintBytes && offset > position.headLength;
    const head = isShort ? await file.content.read(0, Math.min(fingerprintBytes, offset)) : undefined;
    return {
      ...position,
      ...(head && { headLength: head.length, headHash: hashOf(head) }),
      place: file.place,
      path: file.path,
      offset,
      marks: withMark(position.marks, markAt(offset, tail)),
      changedAt: Date.now(),
    };
  }

  /** Closes files that were read to their end and are gone, or have been out of sight for a while. */
  private async letGo(): Promise<void> {
    const now = Date.now();
    for (const [place, file] of this.files) {
      if (file.isListed) continue;
      const isRead = file.readAt > 0 || file.size === 0 || (file.isKnown && file.position?.offset === file.size);
      const rested = now - Math.max(file.changedAt, file.readAt) > (file.links === 0 ? restTime : unseenTime);
      const isCopy = !file.isKnown && file.links === 0 && now - file.firstSeen > unseenTime;
      if (!(isRead && rested) && !isCopy) continue;
      this.files.delete(place);
      if (file.position) this.free?.push(file.position);
      await closeFile(file);
    }
  }
}

/** Whether nothing was written to a file since all of it was read. */
function isReadToItsEnd({ isPacked, readAt, position, size }: OpenFile): boolean {
  return !isPacked && readAt > 0 && position?.offset === size;
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

/** What reading the files of a source from their beginnings would deliver. Nothing is noted: they are followed as before. */
export async function* filesAgain(
  directory: SourceDirectory,
  source: Source,
  bounds: SourceBounds,
): AsyncIterable<Delivery> {
  const seen = new Set<string>();
  for (const path of await listFiles(source.settings.globs ?? [])) {
    const file = await openFile(path, (real) => bounds.allowsFile(real));
    if (!file) continue;
    try {
      // Of a file that is there twice, such as a copy that is being packed, only the first is read.
      const size = file.isPacked ? await unpackedSize(file) : file.size;
      const key = `${size} ${hashOf(await file.content.read(0, chunkBytes).catch(() => new Uint8Array(0)))}`;
      if (size === undefined || seen.has(key)) continue;
      seen.add(key);
      for (let offset = 0; offset < size; ) {
        const bytes = await file.content.read(offset, chunkBytes);
        const length = completeLength(bytes, source, bytes.length < chunkBytes);
        if (length === 0) break;
        yield { ...directory.deliveryOf(source), ...pieceOf(source, bytes.subarray(0, length)), tapeEvery: 1 };
        offset += length;
      }
    } finally {
      await closeFile(file);
    }
  }
}
