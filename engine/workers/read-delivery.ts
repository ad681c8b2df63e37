import { gunzipSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { compileJoinRule, joinRecords } from '#core/formats/join.ts';
import { countRecords, decodeOtlp, parseOtlp, readOtlp, TooManyParts } from '#core/formats/otlp.ts';
import { type ReaderCache, type ReadResult, readRecords } from '#core/formats/read.ts';
import { beginsArray, joinMessages, type Records, splitArray, splitLines } from '#core/formats/records.ts';
import { compileMasks, type MaskRule, type Masks } from '#core/masks/mask.ts';
import { prepareBatch } from '#core/pipelines/prepare.ts';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import { maxUnpackedBytes } from '../deliveries/gzip.ts';
import { validUtf8 } from './valid-utf8.ts';
import { workerHash } from './worker-database.ts';

/** What the readers of a source's records learnt of them, of the sources that were heard last. */
const readers = new LRUCache<string, ReaderCache>({ max: 500 });

/** A delivery read as events. */
export interface ReadDelivery {
  readonly result: ReadResult;
  /** The raw records; undefined for deliveries that are no lines, or whose lines say less than their events. */
  readonly records: Records | undefined;
  readonly replaced: boolean;
}

/** Why nothing of a delivery could be read. */
export type Refused = Extract<DeliveryAnswer, { kind: 'refused' | 'larger' }>;

/** Most records of a delivery: some thirty bytes of each, if it is as long as one may be. */
const mostRecords = 2_000_000;

function tooMany(what: string): Refused {
  const message = `The body has too many ${what}. Nothing of it was kept; send it in smaller requests.`;
  return { kind: 'refused', status: 413, message };
}

/** Reads the records of a delivery as events: unpacked, masked as its source asks, with its labels; before any pipeline. */
export function readDelivery(delivery: Delivery): ReadDelivery | Refused {
  const unfolded = unfold(delivery);
  if ('kind' in unfolded) return unfolded;
  const { shape } = delivery;
  if (shape === 'otlp-json' || shape === 'otlp-protobuf') return readOtlpDelivery(delivery, unfolded.bytes);
  return readLines(delivery, unfolded.bytes);
}

function unfold(delivery: Delivery): { readonly bytes: Uint8Array } | Refused {
  const [bytes] = delivery.chunks;
  if (!bytes) return { kind: 'refused', status: 400, message: 'The request has no body.' };
  if (!delivery.gzip) return { bytes };
  const most = Math.max(1, delivery.mostUnpacked ?? maxUnpackedBytes);
  try {
    return { bytes: gunzipSync(bytes, { maxOutputLength: most }) };
  } catch (error) {
    const tooLarge =
      error instanceof RangeError ||
      (error instanceof Error && 'code' in error && error.code === 'ERR_BUFFER_TOO_LARGE');
    if (tooLarge && most < maxUnpackedBytes) return { kind: 'larger' };
    return tooLarge
      ? {
          kind: 'refused',
          status: 413,
          message: `The body unfolds to more than ${maxUnpackedBytes / 1e6} MB. Nothing of it was kept; send it in smaller requests.`,
        }
      : {
          kind: 'refused',
          status: 400,
          message: 'The body is no gzip, though the request says so. Nothing of it was kept.',
        };
  }
}

function readOtlpDelivery(delivery: Delivery, bytes: Uint8Array): ReadDelivery | Refused {
  const context = { received: delivery.received, backfill: delivery.backfill };
  try {
    const request = delivery.shape === 'otlp-json' ? parseOtlp(bytes) : decodeOtlp(bytes);
    if (countRecords(request) > mostRecords)
      return tooMany(`records: there may be ${mostRecords.toLocaleString('en')}`);
    const result = readOtlp(delivery.source, request, bytes.length, context);
    const batch = prepareBatch(result.batch, { masks: masksOf(delivery.masks), labels: delivery.labels });
    return { result: { ...result, batch }, records: undefined, replaced: false };
  } catch (error) {
    if (error instanceof TooManyParts) return tooMany('parts');
    const reason = error instanceof Error ? error.message : String(error);
    return {
      kind: 'refused',
      status: 400,
      message: `The body is no OTLP logs request: ${reason}. Nothing of it was kept.`,
    };
  }
}

function readLines(delivery: Delivery, unfolded: Uint8Array): ReadDelivery | Refused {
  const { columns, labels } = delivery;
  const joined =
    delivery.shape === 'messages' ? joinMessages(delivery.chunks.map((chunk) => validUtf8(chunk).bytes)) : undefined;
  const valid = joined ? { bytes: joined.bytes, replaced: false } : validUtf8(unfolded);
  const lines = joined ?? (isArray(delivery, valid.bytes) ? splitArray(valid.bytes) : splitLines(valid.bytes));
  if (lines.count > mostRecords) return tooMany(`records: there may be ${mostRecords.toLocaleString('en')}`);
  const records = delivery.join ? joinRecords(lines, compileJoinRule(delivery.join)) : lines;
  const context = { received: delivery.received, backfill: delivery.backfill };
  const result = readRecords(delivery.source, records, delivery.format, context, readersOf(delivery.source));
  const masks = masksOf(delivery.masks);
  if (!columns && !labels && !masks) return { result, records, replaced: valid.replaced };
  const batch = prepareBatch(result.batch, { columns, masks, labels });
  // Lines that could not be read have no columns.
  const unreadable = result.unreadable && prepareBatch(result.unreadable, { masks, labels });
  // What the object's name or first line says is not in the lines, and what is masked is: the tape takes the events instead.
  return { result: { ...result, batch, unreadable }, records: undefined, replaced: valid.replaced };
}

const compiledMasks = new LRUCache<string, Masks>({ max: 500 });

/** Compiled masks, kept by their text: sources have few, and they seldom change. */
function masksOf(rules: readonly MaskRule[] | undefined): Masks | undefined {
  if (!rules || rules.length === 0) return undefined;
  const key = JSON.stringify(rules);
  let masks = compiledMasks.get(key);
  if (!masks) {
    compiledMasks.set(key, (masks = compileMasks(rules, workerHash)));
  }
  return masks;
}

function isArray(delivery: Delivery, bytes: Uint8Array): boolean {
  return (delivery.format === 'auto' || delivery.format === 'json') && beginsArray(bytes);
}

function readersOf(source: string): ReaderCache {
  let cache = readers.get(source);
  if (!cache) {
    readers.set(source, (cache = new Map()));
  }
  return cache;
}
