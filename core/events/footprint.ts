import type { EventBatch } from './batch.ts';
import { type AttributeColumns, missingFlag } from './columns.ts';

/** Bytes of a row in the columns that every event has: times, severity, weight, size, codes. */
const bytesOfRow = 40;

/** Bytes that the values of an attribute make up: texts as UTF-8, numbers 8 each, flags 1. */
export function attributeBytes({ number, text, flag }: AttributeColumns): number {
  let bytes = 0;
  if (number) for (const value of number.values) if (value === value) bytes += 8;
  if (text) {
    const { codes, table } = text;
    const { offsets } = table;
    for (let row = 0; row < codes.length; row++) {
      const code = codes[row] as number;
      if (code >= 0) bytes += (offsets[code + 1] as number) - (offsets[code] as number);
    }
  }
  if (flag) for (const value of flag.values) if (value !== missingFlag) bytes++;
  return bytes;
}

/** Bytes of all bodies of a batch. */
export function bodyBytes({ body }: EventBatch): number {
  return (body.offsets[body.count] as number) - (body.offsets[0] as number);
}

/** By how many bytes the values grew from one batch to the other; what they share is not looked at. */
export function growth(before: EventBatch, after: EventBatch): number {
  let bytes = before.body === after.body ? 0 : bodyBytes(after) - bodyBytes(before);
  for (const [name, columns] of after.attributes) {
    const old = before.attributes.get(name);
    if (old !== columns) bytes += attributeBytes(columns) - (old ? attributeBytes(old) : 0);
  }
  for (const [name, columns] of before.attributes) if (!after.attributes.has(name)) bytes -= attributeBytes(columns);
  return bytes;
}

/** Bytes of memory that a batch takes about: its columns, and the texts that they point into. */
export function memoryOf(batch: EventBatch): number {
  let bytes = batch.rows * bytesOfRow + batch.body.bytes.length + batch.emitter.table.bytes.length;
  for (const { number, text, flag } of batch.attributes.values()) {
    if (number) bytes += number.values.byteLength;
    if (text) bytes += text.codes.byteLength + text.table.offsets.byteLength + text.table.bytes.byteLength;
    if (flag) bytes += flag.values.byteLength;
  }
  return bytes;
}
