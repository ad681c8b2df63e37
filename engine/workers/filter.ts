import { closeSync, openSync, readSync } from 'node:fs';
import { type Condition, conditionOf } from '#core/conditions/condition.ts';
import { decode } from '#core/events/text-table.ts';
import { eachMatchingLine, hidesText, necessaryPatterns, rarestPattern } from '#core/formats/json-filter.ts';
import { type ReaderCache, readRecords } from '#core/formats/read.ts';
import { joinMessages, type Records, splitLines } from '#core/formats/records.ts';

/** A stretch of a file of JSON lines to look through; it begins and ends where a line does. */
export interface FilterTask {
  readonly file: string;
  readonly from: number;
  readonly to: number;
  readonly condition: string;
  /** Whether the lines are wanted, or only how many there are. */
  readonly lines: boolean;
}

export interface FilterResult {
  readonly found: number;
  readonly lines: readonly string[];
}

/** Bytes read at a time: what fits into the nearer caches is looked through fastest. */
const pieceBytes = 65_536;

/** Candidates read together. */
const groupSize = 4_096;

/** Looks through a stretch of a file; lines that are no JSON are passed over. */
export default function filterStretch({ file, from, to, condition: text, lines }: FilterTask): FilterResult {
  const condition = conditionOf(text);
  const patterns = necessaryPatterns(condition);
  const wanted = onlyAttributes(condition)
    ? new Set(condition.attributes.map((name) => name.toLowerCase()))
    : undefined;
  const context = { received: Date.now(), backfill: false, ...(wanted && { wanted }) };
  const readers: ReaderCache = new Map();
  const found: string[] = [];
  let count = 0;
  const look = (candidates: Records): void => {
    if (candidates.count === 0) return;
    const { batch, records } = readRecords('file', candidates, 'json', context, readers);
    const mask = condition.test(batch, { now: context.received });
    for (let row = 0; row < mask.length; row++) {
      if (mask[row] === 0) continue;
      count++;
      const { bytes, starts, ends } = candidates;
      const record = records[row] as number;
      if (lines) found.push(decode(bytes, starts[record] as number, ends[record] as number));
    }
  };
  let pattern: RegExp | undefined;
  let group: Uint8Array[] = [];
  for (const piece of pieces(file, from, to)) {
    const latin1 = piece.toString('latin1');
    if (patterns.length === 0 || hidesText(latin1)) {
      look(splitLines(piece));
      continue;
    }
    pattern ??= rarestPattern(patterns, latin1) as RegExp;
    // The piece's memory is used again for the next one, so candidates are copied out of it.
    eachMatchingLine(latin1, pattern, (start, end) => group.push(new Uint8Array(piece.subarray(start, end))));
    if (group.length < groupSize) continue;
    look(joinMessages(group));
    group = [];
  }
  look(joinMessages(group));
  return { found: count, lines: found };
}

/** Whether a condition looks at attributes alone, so that a reader may pass over everything else. */
function onlyAttributes({ body, text }: Condition): boolean {
  return !body && !/\b(severity|time|received|emitter)\b/i.test(text);
}

/** A stretch of a file in pieces that end with a line; a longer line makes a longer piece. */
function* pieces(file: string, from: number, to: number): Generator<Buffer> {
  const descriptor = openSync(file, 'r');
  try {
    let buffer = Buffer.allocUnsafe(pieceBytes);
    for (let at = from; at < to; ) {
      const length = readSync(descriptor, buffer, 0, Math.min(buffer.length, to - at), at);
      if (length === 0) return;
      const last = at + length >= to ? length : buffer.lastIndexOf(10, length - 1) + 1;
      if (last === 0) {
        buffer = Buffer.allocUnsafe(buffer.length * 2);
        continue;
      }
      yield buffer.subarray(0, last);
      at += last;
    }
  } finally {
    closeSync(descriptor);
  }
}
