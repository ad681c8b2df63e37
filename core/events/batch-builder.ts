import type { EventBatch } from './batch.ts';
import {
  type AttributeColumns,
  FlagColumnBuilder,
  missingFlag,
  NumberColumnBuilder,
  TextColumnBuilder,
} from './columns.ts';
import { decode, encode, TextTableBuilder } from './text-table.ts';
import { day } from './time-units.ts';
import type { Unit } from './units.ts';

/** Most attribute names in one batch; further ones are counted and left out, while the event itself is kept. */
export const maxAttributes = 500;

/** Longest name of an attribute, in bytes; values under longer ones are counted and left out. */
export const maxNameBytes = 256;

/** How far ahead of its arrival, and how far behind, an event's own time is believed (milliseconds). */
export const maxAhead = day;
export const maxBehind = 400 * day;

/** The attribute that keeps a time which was not believed, as it was given (ISO 8601 or a number). */
export const givenTimeAttribute = 'time.given';

/** All values of one attribute while a batch is being filled. */
export class AttributeBuilder {
  private number: NumberColumnBuilder | undefined;
  private text: TextColumnBuilder | undefined;
  private flag: FlagColumnBuilder | undefined;

  constructor(
    private readonly capacity: number,
    private readonly unit: Unit = 'none',
  ) {}

  /** A number that is not finite is no number to reckon with: it is kept as its text. */
  setNumber(row: number, value: number): void {
    if (value - value !== 0) {
      this.setString(row, String(value));
      return;
    }
    this.number ??= new NumberColumnBuilder(this.capacity, this.unit);
    this.number.set(row, value);
  }

  setFlag(row: number, value: boolean): void {
    this.flag ??= new FlagColumnBuilder(this.capacity);
    this.flag.set(row, value ? 1 : 0);
  }

  setText(row: number, source: Uint8Array, start: number, end: number): void {
    this.text ??= new TextColumnBuilder(this.capacity);
    this.text.set(row, source, start, end);
  }

  setTextHashed(row: number, source: Uint8Array, start: number, end: number, hash: number): void {
    this.text ??= new TextColumnBuilder(this.capacity);
    this.text.setHashed(row, source, start, end, hash);
  }

  setString(row: number, text: string): void {
    const bytes = encode(text);
    this.setText(row, bytes, 0, bytes.length);
  }

  clear(row: number): void {
    this.number?.set(row, Number.NaN);
    this.text?.clear(row);
    this.flag?.set(row, missingFlag);
  }

  /** The finished columns. The builder lets go of them: a reader that remembers it keeps no batch alive. */
  columns(rows: number): AttributeColumns {
    const { number, text, flag } = this;
    this.number = undefined;
    this.text = undefined;
    this.flag = undefined;
    return {
      ...(number && { number: number.column(rows) }),
      ...(text && { text: text.column(rows) }),
      ...(flag && { flag: flag.column(rows) }),
    };
  }
}

/**
 * Fills an {@link EventBatch} event by event: set the parts of the event in row `row`, then `commit` it,
 * or `rollback` to forget what was set.
 */
export class BatchBuilder {
  /** The row being filled; equals the number of finished rows. */
  row = 0;
  /** Values left out because the batch had {@link maxAttributes} names already, or their name was too long. */
  attributesLeftOut = 0;
  /** Events whose own time was not believed. */
  timesNotBelieved = 0;
  emitter: TextColumnBuilder;
  private readonly attributes = new Map<string, AttributeBuilder>();
  private bodies = new TextTableBuilder();
  private time: Float64Array;
  private received: Float64Array;
  private severity: Uint8Array;
  private size: Uint32Array;
  private parsed: Uint8Array;
  private rowTime = Number.NaN;
  private rowSeverity = 0;
  private bodyDone = false;

  constructor(
    readonly source: string,
    private capacity = 4096,
  ) {
    this.emitter = new TextColumnBuilder(capacity);
    this.time = new Float64Array(capacity);
    this.received = new Float64Array(capacity);
    this.severity = new Uint8Array(capacity);
    this.size = new Uint32Array(capacity);
    this.parsed = new Uint8Array(capacity);
  }

  /**
   * The attribute of that name; undefined once the batch has {@link maxAttributes} other names, and for a name of more
   * than {@link maxNameBytes} bytes. What is no Unicode in a name becomes U+FFFD.
   */
  attribute(name: string): AttributeBuilder | undefined {
    const known = this.attributes.get(name);
    if (known || name.length > maxNameBytes) return known;
    const bytes = encode(name);
    if (bytes.length > maxNameBytes) return undefined;
    const written = decode(bytes, 0, bytes.length);
    const same = this.attributes.get(written);
    if (same || this.attributes.size >= maxAttributes) return same;
    const added = new AttributeBuilder(this.capacity);
    this.attributes.set(written, added);
    return added;
  }

  /** Sets the event's own time in milliseconds. `NaN` means that it has none. */
  setTime(time: number): void {
    this.rowTime = time;
  }

  setSeverity(severity: number): void {
    this.rowSeverity = severity;
  }

  /** Sets the body from UTF-8 bytes; the first body set in a row stays. */
  setBody(source: Uint8Array, start: number, end: number): void {
    if (this.bodyDone) return;
    this.bodies.append(source, start, end);
    this.bodyDone = true;
  }

  get hasBody(): boolean {
    return this.bodyDone;
  }

  /** Finishes the row. `received` in milliseconds, `size` in bytes as it arrived. */
  commit(received: number, size: number, parsed: boolean): void {
    const { row } = this;
    if (row >= this.capacity) this.grow();
    if (!this.bodyDone) this.bodies.append(empty, 0, 0);
    this.time[row] = this.believed(received);
    this.received[row] = received;
    this.severity[row] = this.rowSeverity;
    this.size[row] = size;
    this.parsed[row] = parsed ? 1 : 0;
    this.row = row + 1;
    this.rowTime = Number.NaN;
    this.rowSeverity = 0;
    this.bodyDone = false;
  }

  /** Forgets what was set in the row. The bytes of a body that was set stay behind as the next row's body. */
  rollback(): void {
    for (const attribute of this.attributes.values()) attribute.clear(this.row);
    this.emitter.clear(this.row);
    if (this.bodyDone) this.bodies.count--;
    this.rowTime = Number.NaN;
    this.rowSeverity = 0;
    this.bodyDone = false;
  }

  /** The finished batch. The builder lets go of it, and must not be used afterwards. */
  batch(): EventBatch {
    const batch = this.finished();
    this.attributes.clear();
    this.bodies = new TextTableBuilder();
    this.emitter = new TextColumnBuilder(0);
    this.time = this.received = new Float64Array(0);
    this.severity = this.parsed = new Uint8Array(0);
    this.size = new Uint32Array(0);
    return batch;
  }

  private finished(): EventBatch {
    const { row: rows } = this;
    const attributes = new Map<string, AttributeColumns>();
    for (const [name, attribute] of this.attributes) {
      const columns = attribute.columns(rows);
      if (columns.number || columns.text || columns.flag) attributes.set(name, columns);
    }
    return {
      rows,
      source: this.source,
      time: this.time.subarray(0, rows),
      received: this.received.subarray(0, rows),
      severity: this.severity.subarray(0, rows),
      weight: new Float32Array(rows).fill(1),
      size: this.size.subarray(0, rows),
      parsed: this.parsed.subarray(0, rows),
      emitter: this.emitter.column(rows),
      body: this.bodies.table(),
      attributes,
    };
  }

  private believed(received: number): number {
    const time = this.rowTime;
    if (time !== time) return received;
    if (time <= received + maxAhead && time >= received - maxBehind) return time;
    this.timesNotBelieved++;
    const date = new Date(time);
    this.attribute(givenTimeAttribute)?.setString(
      this.row,
      Number.isNaN(date.getTime()) ? String(time) : date.toISOString(),
    );
    return received;
  }

  private grow(): void {
    this.capacity *= 2;
    this.time = grown(this.time, new Float64Array(this.capacity));
    this.received = grown(this.received, new Float64Array(this.capacity));
    this.severity = grown(this.severity, new Uint8Array(this.capacity));
    this.size = grown(this.size, new Uint32Array(this.capacity));
    this.parsed = grown(this.parsed, new Uint8Array(this.capacity));
  }
}

const empty = new Uint8Array(0);

function grown<T extends Float64Array | Uint8Array | Uint32Array>(from: T, to: T): T {
  to.set(from);
  return to;
}
