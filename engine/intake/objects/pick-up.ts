import { decode, encode } from '#core/events/text-table.ts';
import { csvColumns } from '#core/formats/csv-columns.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import { compileTemplate } from '#core/templates/template.ts';
import type { Database } from '#store/database.ts';
import { StoreFault } from '#store/fault.ts';
import { findObjects, listIdentity, objectIdentity, type PickedObject, saveObject } from '#store/positions.ts';
import type { Source } from '#store/sources.ts';
import type { Log } from '../../log.ts';
import { type Repeated, repeat } from '../../repeat.ts';
import type { Delivery } from '../delivery.ts';
import type { IntakeQueue } from '../queue.ts';
import type { Senders } from '../senders.ts';
import type { SourceBounds } from '../source-bounds.ts';
import type { TapeRate } from '../tape-rate.ts';
import { ObjectFault, objectContent } from './fetch-object.ts';
import { lineBatches } from './line-batches.ts';
import { type ListedObject, listObjectsAt } from './object-list.ts';

/** Between two looks at the lists of objects, in milliseconds. */
const pause = 2_000;
/** The pause after a first fault, doubled after each further one up to the longest (milliseconds). */
const firstPause = 1_000;
const longestPause = 600_000;
/** So often a fault that seems to be final is met before it is taken for that. */
const finalAttempts = 3;

export interface ObjectsSetting {
  readonly queue: IntakeQueue;
  readonly senders: Senders;
  readonly tapeRate: TapeRate;
  readonly database: Database;
  readonly bounds: SourceBounds;
  readonly log: Log;
}

/** Picks up new objects of all sources that name a list of them, each object exactly once. No source waits for another. */
export function pickUpObjects(setting: ObjectsSetting): Repeated {
  const pickers = new Map<string, Picker>();
  return repeat(pause, setting.log, async () => {
    const sources = setting.senders.sourcesOfKind('objects');
    for (const name of pickers.keys()) if (!sources.some((source) => source.name === name)) pickers.delete(name);
    for (const source of sources) {
      if (setting.senders.isPaused(source.name) || !source.settings.url) continue;
      let picker = pickers.get(source.name);
      if (!picker) pickers.set(source.name, (picker = new Picker(setting)));
      void picker.round(source, source.settings.url);
    }
  });
}

/** Picks up the objects of one source. */
class Picker {
  private busy = false;
  /** Objects that need no second look, of those that are listed. */
  private done: ReadonlySet<string> = new Set();
  private since = -1;
  private listAttempts = 0;
  private nextList = 0;

  constructor(private readonly setting: ObjectsSetting) {}

  /** Picks up what is new, unless that is being done still. Never fails: what goes wrong is noted and tried again. */
  async round(source: Source, url: string): Promise<void> {
    if (this.busy || Date.now() < this.nextList) return;
    this.busy = true;
    try {
      await this.pickUpAll(source, url);
    } catch (error) {
      const said = error instanceof Error ? error.message : String(error);
      this.setting.log.warn(`The objects of ${source.name} could not be picked up; it is tried again: ${said}`);
    } finally {
      this.busy = false;
    }
  }

  private async pickUpAll(source: Source, url: string): Promise<void> {
    const since = this.setting.senders.rewoundAt(source.name);
    if (since !== this.since) this.done = new Set();
    this.since = since;
    const listed = await this.list(source, url);
    if (!listed) return;
    const byIdentity = new Map(listed.map((object) => [objectIdentity(object.name, object.version), object]));
    const open = [...byIdentity.keys()].filter((identity) => !this.done.has(identity));
    const known = await findObjects(this.setting.database, source.name, open);
    const done = new Set([...this.done].filter((identity) => byIdentity.has(identity)));
    for (const identity of open) {
      const before = known.get(identity);
      if (this.setting.senders.isPaused(source.name)) return;
      if (before?.done) {
        // One that was given up may be wanted again: it is looked up each time.
        if (before.problem === '') done.add(identity);
      } else if ((before?.retryAt ?? 0) <= Date.now()) {
        await this.pickUp(source, url, byIdentity.get(identity) as ListedObject, identity, before);
      }
    }
    this.done = done;
  }

  private async list(source: Source, url: string): Promise<readonly ListedObject[] | undefined> {
    const { database, bounds } = this.setting;
    const row = { source: source.name, identity: listIdentity, name: '', records: 0, done: true, retryAt: null };
    try {
      const listed = await listObjectsAt(url, bounds);
      if (this.listAttempts > 0) await saveObject(database.db, { ...row, problem: '', attempts: 0, at: Date.now() });
      this.listAttempts = 0;
      return listed;
    } catch (error) {
      if (error instanceof StoreFault) throw error;
      const problem = `The list: ${error instanceof Error ? error.message : String(error)}`;
      const attempts = ++this.listAttempts;
      this.nextList = Date.now() + pauseAfter(attempts);
      await saveObject(database.db, { ...row, problem, attempts, at: Date.now() });
      return undefined;
    }
  }

  private async pickUp(
    source: Source,
    url: string,
    listed: ListedObject,
    identity: string,
    before: PickedObject | undefined,
  ): Promise<void> {
    let records = before?.records ?? 0;
    const rowOf = (done: boolean): PickedObject => ({
      source: source.name,
      identity,
      name: listed.name,
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
        await this.deliver(source, part, { key, progress: { kind: 'object', ...rowOf(isLast) } });
      };
      // Which part is the last is known when no other has come.
      for await (const part of recordsOf(source, url, listed, this.setting.bounds, records)) {
        if (waiting) await send(waiting, false);
        waiting = part;
      }
      if (waiting) await send(waiting, true);
      else await saveObject(this.setting.database.db, rowOf(true));
    } catch (error) {
      if (error instanceof StoreFault) throw error;
      const attempts = (before?.attempts ?? 0) + 1;
      const gaveUp = error instanceof ObjectFault && error.isFinal && attempts >= finalAttempts;
      await saveObject(this.setting.database.db, {
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
    const { queue, senders, tapeRate } = this.setting;
    const piece = pieceOf(source, part);
    const bytes = piece.chunks[0].length;
    const tapeEvery = tapeRate.every(source.name, piece.received, Math.ceil(bytes / 200));
    const delivery: Delivery = { ...senders.deliveryOf(source), ...piece, ...parts, tapeEvery };
    for (;;) {
      await queue.room(source.name);
      const stored = await new Promise<boolean>((resolve) => {
        const answer = (): void => resolve(true);
        if (!queue.offer({ delivery, bytes, answer, storeAway: () => true })) resolve(false);
      });
      if (stored) return;
    }
  }
}

function pauseAfter(attempts: number): number {
  return Math.min(longestPause, firstPause * 2 ** (attempts - 1));
}

/** What reading the objects of a source anew would deliver. Nothing is noted: what was picked up stays picked up. */
export async function* objectsAgain(senders: Senders, source: Source, bounds: SourceBounds): AsyncIterable<Delivery> {
  const { url } = source.settings;
  if (!url) return;
  for (const listed of await listObjectsAt(url, bounds)) {
    try {
      for await (const part of recordsOf(source, url, listed, bounds, 0))
        yield { ...senders.deliveryOf(source), ...pieceOf(source, part), tapeEvery: 1 };
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

/** Lines by which the types of columns are told. */
const linesForTypes = 200;

/** The records of an object, but for the first `skip` of them. */
async function* recordsOf(
  source: Source,
  url: string,
  listed: ListedObject,
  bounds: SourceBounds,
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
