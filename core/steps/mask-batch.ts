import type { EventBatch } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import { decode, textAt } from '../events/text-table.ts';
import type { Masks } from '../masks/mask.ts';
import { maskBody, maskField } from './mask.ts';

/** A batch of which no value is kept that the masks are about: bodies, fields and names of emitters. */
export function maskBatch(batch: EventBatch, masks: Masks): EventBatch {
  const rows = new Uint8Array(batch.rows).fill(1);
  let masked = maskBody(batch, rows, masks.text);
  for (const name of batch.attributes.keys()) masked = maskField(masked, name, rows, masks.ofField(name));
  return maskEmitters(masked, masks);
}

function maskEmitters(batch: EventBatch, { text }: Masks): EventBatch {
  const { codes, table } = batch.emitter;
  let changed = false;
  const names = Array.from({ length: table.count }, (_, code) => {
    const masked = text(table.bytes, table.offsets[code] as number, table.offsets[code + 1] as number);
    if (!masked) return textAt(table, code);
    changed = true;
    return decode(masked, 0, masked.length);
  });
  if (!changed) return batch;
  return { ...batch, emitter: textColumn([...codes].map((code) => (code < 0 ? undefined : names[code]))) };
}
