import type { ReadProgress } from '#core/consumers/progress.ts';
import { decode, encode } from '#core/events/text-table.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { csvColumns } from '#core/templates/csv-columns.ts';
import { compileTemplate } from '#core/templates/template.ts';
import { guardLease, type Lease, LeaseLost } from '#store/cluster/leases.ts';
import { StoreFault } from '#store/fault.ts';
import { findObjects, listIdentity, objectIdentity, type PickedObject, saveObject } from '#store/sources/positions.ts';
import type { Source } from '#store/sources/sources.ts';
import { type Repeated, repeat } from '../../base/repeat.ts';
import { leaseNames } from '../../cluster/leases.ts';
import type { Delivery } from '../../deliveries/delivery.ts';
import type { SourceBounds } from '../../sources/source-bounds.ts';
import type { SourceDirectory } from '../../sources/source-directory.ts';
import { handInPatiently } from '../hand-in.ts';
import type { ReaderSetting } from '../reader-setting.ts';
import { ObjectFault, objectContent } from './fetch-object.ts';
import { lineBatches } from './line-batches.ts';
import type { ListedObject } from './listed-object.ts';
import { listObjectsAt, type ObjectList } from './object-list.ts';

/** Between two looks at the lists of objects, in milliseconds. */
const pause = 2_000;
/** The pause after a first fault, doubled after each further one up to the longest (milliseconds). */
const firstPause = 1_000;
const longestPause = 600_000;
/** So often a fault that seems to be final is met before it is taken for that. */
const finalAttempts = 3;

/** Picks up new objects of all sources that name a list of them, each object exactly once. No source waits for another. */
export function pickUpObjects(setting: ReaderSetting): Repeated {
  const pickers = new Map<string, Picker>();
  return repeat(pause, setting.log, async () => {
    const sources = setting.directory.sourcesOfKind('objects');
    for (const name of pickers.keys()) if (!sources.some((source) => source.name === name)) pickers.delete(name);
    for (const source of sources) {
      if (setting.directory.isPaused(source.name) || !source.settings.url) continue;
      let picker = pickers.get(source.name);
      if (!picker) pickers.set(source.name, (picker = new Picker(setting)));
      const lease = setting.leases.get(leaseNames.reading(source.name));
      if (lease) void picker.round(source, source.settings.url, lease);
    }
  });
}

/** Picks up the objects of one source. */
class Picker {
  private busy = false;
  private lease: Lease | undefined;
  /** Objects that need no second look, of those that are listed. */
  private done: ReadonlySet<string> = new Set();
  private since = -1;
  /** The token of the lease under which objects were found to be done. */
  private doneUnder: number | undefined;
  private last: ObjectList | undefined;
  /** The last list of which every object was picked up. */
  private settled: ObjectList | undefined;
  private listAttempts = 0;
  private nextList = 0;

  constructor(private readonly setting: ReaderSetting) {}

  /** Picks up what is new, unless that is being done still. Never fails: what goes wrong is noted and tried again. */
  async round(source: Source, url: string, lease: Lease): Promise<void> {
    if (this.busy || Date.now() < this.nextList) return;
    this.busy = true;
    this.lease = lease;
    try {
      await this.pickUpAll(source, url);
    } catch (error) {
      if (error instanceof Superseded || error instanceof LeaseLost) {
        void this.setting.leases.look();
        return;
      }
      const said = error instanceof Error ? error.message : String(error);
      this.setting.log.warn(`The objects of ${source.name} could not be picked up; it is tried again: ${said}`);
    } finally {
      this.busy = false;
    }
  }

  private async pickUpAll(source: Source, url: string): Promise<void> {
    const since = this.setting.directory.rewoundAt(source.name);
    // What another engine has done since cannot be known from what it did before.
    if (since !== this.since || this.doneUnder !== this.lease?.token) {
      this.done = new Set();
      this.settled = undefined;
    }
    this.doneUnder = this.lease?.token;
    this.since = since;
    const listed = await this.list(source, url);
    if (!listed || listed === this.settled) return;
    const byIdentity = new Map(listed.objects.map((object) => [objectIdentity(object.name, object.version), object]));
    const open = [...byIdentity.keys()].filter((identity) => !this.done.has(identity));
    const known = await findObjects(this.setting.database, source.name, open);
    const done = new Set([...this.done].filter((identity) => byIdentity.has(identity)));
    for (const identity of open) {
      const before = known.get(identity);
      if (this.setting.directory.isPaused(source.name)) return;
      if (before?.done) {
        // One that was given up may be wanted again: it is looked up each time.
        if (before.problem === '') done.add(identity);
      } else if ((before?.retryAt ?? 0) <= Date.now()) {
        const listedObject = byIdentity.get(identity) as ListedObject;
        await this.pickUp(source, { url, listed: listedObject, bounds: this.setting.bounds }, { identity, before });
      }
    }
    this.done = done;
    if (open.every((identity) => done.has(identity))) this.settled = listed;
  }

  private async list(source: Source, url: string): Promise<ObjectList | undefined> {
    const { bounds } = this.setting;
    const row = { source: source.name, identity: listIdentity, name: '', records: 0, done: true, retryAt: null };
    try {
      const listed = await listObjectsAt(url, bounds, this.last);
      this.last = listed;
      if (this.listAttempts > 0) await this.note({ ...row, problem: '', attempts: 0, at: Date.now() });
      this.listAttempts = 0;
      return listed;
    } catch (error) {
      if (error instanceof StoreFault || error instanceof LeaseLost) throw error;
      const problem = `The list: ${error instanceof Error ? error.message : String(error)}`;
      const attempts = ++this.listAttempts;
      this.nextList = Date.now() + pauseAfter(attempts);
      await this.note({ ...row, problem, attempts, at: Date.now() });
      return undefined;
    }
  }

  private async pickUp(
    source: Source,
    object: ObjectPlace,
    { identity, before }: { readonly identity: string; readonly before: PickedObject | undefined },
  ): Promise<void> {
    let records = before?.records ?? 0;
    const rowOf = (done: boolean): PickedObject => ({
      source: source.name,
      identity,
      name: object.listed.name,
      records,
      done,
      problem: '',
      attempts: 0,
      retryAt: null,
      at: Date.now(),
    });
    try {
      let waiting: ObjectRecords | undefined;
      const send = async (part: ObjectRecords, isLast: boolean): Promise<void> => {
        const key = `object ${this.since} ${identity} ${part.from}`;
        records = part.from + part.records.length;
        await this.deliver(source, part, { key, progress: this.progressOf(rowOf(isLast)) });
      };
      // Which part is the last is known when no other has come.
      for await (const part of recordsOf(source, object, records)) {
        if (waiting) await send(waiting, false);
        waiting = part;
      }
      if (waiting) await send(waiting, true);
      else await this.note(rowOf(true));
    } catch (error) {
      if (error instanceof StoreFault || error instanceof Superseded || error instanceof LeaseLost) throw error;
      const attempts = (before?.attempts ?? 0) + 1;
      const gaveUp = error instanceof ObjectFault && error.isFinal && attempts >= finalAttempts;
      await this.note({
        ...rowOf(gaveUp),
        problem: error instanceof Error ? error.message : String(error),
        attempts,
        retryAt: gaveUp ? null : Date.now() + pauseAfter(attempts),
      });
    }
  }

  private async deliver(
    source: Source,
    part: ObjectRecords,
    parts: Pick<Delivery, 'progress'> & { readonly key: string },
  ): Promise<void> {
    const { queue, directory, tapeRate } = this.setting;
    const piece = pieceOf(source, part);
    const bytes = piece.chunks[0].length;
    const tapeEvery = tapeRate.every(source.name, piece.received, Math.ceil(bytes / 200));
    const delivery: Delivery = { ...directory.deliveryOf(source), ...piece, ...parts, tapeEvery };
    const answer = await handInPatiently(queue, { delivery, bytes });
    if (answer.kind === 'superseded') throw new Superseded();
  }

  /** Notes something about an object, unless another engine picks them up by now. */
  private async note(row: PickedObject): Promise<void> {
    await this.setting.database.db.transaction(async (tx) => {
      if (this.lease) await guardLease(tx, this.lease);
      await saveObject(tx, row);
    });
  }

  private progressOf(row: PickedObject): ReadProgress {
    const lease = this.lease && { lease: { name: this.lease.name, token: this.lease.token } };
    return { kind: 'object', ...row, ...lease };
  }
}

/** Another engine picks up the objects of the source now. */
class Superseded extends Error {
  override readonly name = 'Superseded';
}

function pauseAfter(attempts: number): number {
  return Math.min(longestPause, firstPause * 2 ** (attempts - 1));
}

/** What reading the objects of a source anew would deliver. Nothing is noted: what was picked up stays picked up. */
export async function* objectsAgain(
  directory: SourceDirectory,
  source: Source,
  bounds: SourceBounds,
): AsyncIterable<Delivery> {
  const { url } = source.settings;
  if (!url) return;
  for (const listed of (await listObjectsAt(url, bounds)).objects) {
    try {
      for await (const part of recordsOf(source, { url, listed, bounds }, 0))
        yield { ...directory.deliveryOf(source), ...pieceOf(source, part), tapeEvery: 1 };
    } catch (error) {
      // One that cannot be read was noted with the reason when it was to be picked up.
      if (!(error instanceof ObjectFault)) throw error;
    }
  }
}

/** Some records of an object, from the record `from` (0 is the first) on. */
interface ObjectRecords {
  readonly records: readonly Uint8Array[];
  readonly from: number;
  /** For an object of separated values, as its first line names them. */
  readonly columns: readonly string[] | undefined;
  readonly labels: Readonly<Record<string, string>>;
}

/** Where an object is: in the list at an address, read within bounds. */
interface ObjectPlace {
  readonly url: string;
  readonly listed: ListedObject;
  readonly bounds: SourceBounds;
}

/** Lines from which the types of columns are taken. */
const linesForTypes = 200;

/** The records of an object, but for the first `skip` of them. */
async function* recordsOf(
  source: Source,
  { url, listed, bounds }: ObjectPlace,
  skip: number,
): AsyncGenerator<ObjectRecords> {
  const isCsv = /\.csv(\.gz)?$/i.test(listed.name);
  const labels = { ...labelsFrom(listed.name, source.settings.path), object: listed.name.slice(-200) };
  let columns: readonly string[] | undefined;
  let at = 0;
  for await (const lines of lineBatches(objectContent(url, listed, bounds))) {
    const isFirst = isCsv && columns === undefined;
    if (isFirst) columns = csvColumns(lines.slice(0, linesForTypes).map((line) => decode(line, 0, line.length)));
    const records = isFirst ? lines.slice(1) : lines;
    const fresh = records.slice(Math.max(0, skip - at));
    const from = at + records.length - fresh.length;
    at += records.length;
    if (fresh.length > 0) yield { records: fresh, from, columns, labels };
  }
}

/** The parts of a delivery that some records of an object make up. */
function pieceOf(source: Source, { records, columns, labels }: ObjectRecords) {
  return {
    source: source.name,
    shape: 'lines',
    format: (columns ? 'text' : source.format) as FormatChoice,
    gzip: false,
    chunks: [Buffer.concat(records.flatMap((line) => [line, Uint8Array.of(10)]))],
    received: Date.now(),
    backfill: false,
    labels,
    ...(columns && { columns }),
  } as const;
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
