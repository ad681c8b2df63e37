import type { EventBatch } from '../events/batch.ts';
import { type AttributeColumns, missingCode, missingFlag, type TextColumn } from '../events/columns.ts';
import { encode, fnvBasis, hashBytes, textAt } from '../events/text-table.ts';
import type { KnownShapes } from './known-shapes.ts';
import { LineScanner, mixed, mixedToo } from './line-scanner.ts';
import { otherShape, shapeId } from './shape-id.ts';
import { shapeTable } from './shape-table.ts';
import { fieldsMark, type Skeleton, tellingFields } from './token.ts';

/** A shape that was met and is not decided about, with a line of it. */
export interface NewShape {
  readonly id: string;
  readonly skeleton: Skeleton;
  /** The line as it arrived, cut at 500 characters; the names of its fields where it has none. */
  readonly sample: string;
  readonly source: string;
  /** When the line arrived, in milliseconds. */
  readonly at: number;
}

/** Most skeletons that are remembered with their shape. */
const mostRemembered = 65_536;

/** Most new shapes of a group; what goes beyond them is reported by the next. */
const mostNew = 5_000;

/** Longest sample, in characters. */
const longestSample = 500;

const noShape = -1;

/**
 * Gives every event its shape, before any pipeline: that of its line, or of its fields where it has none. One for a thread;
 * between two calls of {@link begin} it gathers the shapes that are new.
 */
export class Shaper {
  private readonly scanner = new LineScanner();
  private readonly remembered = shapeTable(mostRemembered);
  /** Numbers for ids, as the table of skeletons remembers them. */
  private ids: string[] = [];
  private numbers = new Map<string, number>();
  private version = -1;
  private fresh = new Map<string, NewShape>();
  /** Of each id's number its code in the batch at hand, plus one. */
  private codeOf = new Int32Array(1_024);

  constructor(private readonly known: KnownShapes) {}

  /** Begins with a group: what was new before is reported no more. */
  begin(): void {
    this.fresh = new Map();
    if (this.version === this.known.version && this.ids.length < mostRemembered) return;
    this.version = this.known.version;
    this.remembered.clear();
    this.ids = [];
    this.numbers = new Map();
  }

  /** The shapes that were met since {@link begin} and are not decided about. */
  takeNew(): readonly NewShape[] {
    return [...this.fresh.values()];
  }

  /** The batch with the shapes of its events. */
  shaped(batch: EventBatch): EventBatch {
    return batch.rows === 0 ? batch : { ...batch, shape: this.shapesOf(batch) };
  }

  private shapesOf(batch: EventBatch): TextColumn {
    const { rows, body } = batch;
    const codes = new Int32Array(rows);
    const met: number[] = [];
    const { scanner, remembered } = this;
    let fields: FieldShapes | undefined;
    let columns: readonly NamedColumns[] | undefined;
    const named = () => (columns ??= namedColumns(batch));
    for (let row = 0; row < rows; row++) {
      let number: number;
      const start = row < body.count ? (body.offsets[row] as number) : 0;
      const end = row < body.count ? (body.offsets[row + 1] as number) : 0;
      if (end > start) {
        scanner.scan(body.bytes, start, end);
        number = remembered.get(scanner.high, scanner.low);
        if (number === noShape) number = this.numberOf(scanner.high, scanner.low, scanner.skeleton(body.bytes));
      } else {
        fields ??= fieldShapes(batch.rows, named());
        const high = fields.high[row] as number;
        const low = fields.low[row] as number;
        number = remembered.get(high, low);
        if (number === noShape) number = this.numberOf(high, low, skeletonOfFields(named(), row));
      }
      if (number >= this.codeOf.length) this.widen(number);
      let code = this.codeOf[number] as number;
      if (code === 0) {
        code = met.push(number);
        this.codeOf[number] = code;
        this.notice(this.ids[number] as string, batch, row, named);
      }
      codes[row] = code - 1;
    }
    for (const number of met) this.codeOf[number] = 0;
    return { codes, table: tableOf(met.map((number) => this.ids[number] as string)), unique: true };
  }

  /** The number of the id of a skeleton that is not remembered. */
  private numberOf(high: number, low: number, skeleton: Skeleton): number {
    const own = shapeId(high, low);
    const found = this.known.isDecided(own) ? this.known.current(own) : (this.known.find(skeleton) ?? own);
    const isNew = found === own && !this.known.isDecided(own);
    const isTooMuch = isNew && (this.known.isFull || (this.fresh.size >= mostNew && !this.fresh.has(own)));
    const id = isTooMuch ? otherShape : found;
    let number = this.numbers.get(id);
    if (number === undefined) {
      number = this.ids.push(id) - 1;
      this.numbers.set(id, number);
    }
    // What goes beyond the limit of one group may be reported by the next.
    if (!isTooMuch) this.remembered.set(high, low, number);
    return number;
  }

  /** Tells of a shape that is not decided about. */
  private notice(id: string, batch: EventBatch, row: number, named: () => readonly NamedColumns[]): void {
    if (this.fresh.has(id) || this.known.isDecided(id)) return;
    const { body } = batch;
    const hasLine = row < body.count && (body.offsets[row + 1] as number) > (body.offsets[row] as number);
    let skeleton: Skeleton;
    let line: string;
    if (hasLine) {
      this.scanner.scan(body.bytes, body.offsets[row] as number, body.offsets[row + 1] as number);
      skeleton = this.scanner.skeleton(body.bytes);
      line = textAt(body, row).trimStart();
    } else {
      skeleton = skeletonOfFields(named(), row);
      line = skeleton.slice(1).join(' ');
    }
    const [first = ''] = line.split('\n', 1);
    this.fresh.set(id, {
      id,
      skeleton,
      sample: first.slice(0, longestSample),
      source: batch.source,
      at: batch.received[row] as number,
    });
  }

  private widen(number: number): void {
    const wider = new Int32Array(Math.max(number + 1, this.codeOf.length * 2));
    wider.set(this.codeOf);
    this.codeOf = wider;
  }
}

function tableOf(ids: readonly string[]): TextColumn['table'] {
  const offsets = new Uint32Array(ids.length + 1);
  ids.forEach((id, i) => {
    offsets[i + 1] = (offsets[i] as number) + id.length;
  });
  return { bytes: encode(ids.join('')), offsets, count: ids.length };
}

/** By row, the hash of the fields that an event has. */
interface FieldShapes {
  readonly high: Int32Array;
  readonly low: Int32Array;
}

const telling: ReadonlySet<string> = new Set(tellingFields);

/** What may tell events apart: a few words without digits. */
const tellingValue = /^[^\d\n]{1,40}$/;

/** Hashes which fields each event of a batch has, and the values of those that say what happened. */
function fieldShapes(rows: number, named: readonly NamedColumns[]): FieldShapes {
  const high = new Int32Array(rows).fill(fnvBasis);
  const low = new Int32Array(rows).fill(1);
  for (const { name, isTelling, columns } of named) {
    const bytes = encode(name);
    const hash = hashBytes(bytes, 0, bytes.length);
    const values = isTelling && columns.text ? textHashes(columns.text) : undefined;
    for (let row = 0; row < rows; row++) {
      if (!hasValue(columns, row)) continue;
      const code = columns.text?.codes[row] ?? missingCode;
      const value = values && code >= 0 ? (values[code] as number) : 0;
      high[row] = mixed(mixed(high[row] as number, hash), value);
      low[row] = mixedToo(mixedToo(low[row] as number, hash), value);
    }
  }
  return { high, low };
}

/** By text of a column, its hash; 0 for one that tells nothing. */
function textHashes({ table }: TextColumn): Int32Array {
  const { bytes, offsets, count } = table;
  const hashes = new Int32Array(count);
  for (let code = 0; code < count; code++) {
    const [start, end] = [offsets[code] as number, offsets[code + 1] as number];
    if (end - start <= 160 && tellingValue.test(textAt(table, code))) hashes[code] = hashBytes(bytes, start, end);
  }
  return hashes;
}

/** A field of a batch, and whether its values may tell events apart. */
interface NamedColumns {
  readonly name: string;
  readonly isTelling: boolean;
  readonly columns: AttributeColumns;
}

/** The fields of a batch in the order of their names. */
function namedColumns(batch: EventBatch): readonly NamedColumns[] {
  return [...batch.attributes]
    .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
    .map(([name, columns]) => ({ name, isTelling: telling.has(name.toLowerCase()), columns }));
}

function hasValue({ number, text, flag }: AttributeColumns, row: number): boolean {
  const value = number ? (number.values[row] as number) : Number.NaN;
  if (value === value) return true;
  if (text && (text.codes[row] as number) >= 0) return true;
  return flag !== undefined && flag.values[row] !== missingFlag;
}

/** The names of the fields of one event, with the values of those that say what happened. */
function skeletonOfFields(named: readonly NamedColumns[], row: number): Skeleton {
  const skeleton: string[] = [fieldsMark];
  for (const { name, isTelling, columns } of named) {
    if (!hasValue(columns, row)) continue;
    const code = columns.text?.codes[row] ?? missingCode;
    const value = isTelling && columns.text && code >= 0 ? textAt(columns.text.table, code) : '';
    skeleton.push(tellingValue.test(value) ? `${name}=${value}` : name);
  }
  return skeleton;
}
