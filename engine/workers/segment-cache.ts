import { inflateRawSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import type { EventBatch } from '#core/events/batch.ts';
import { headerNumber } from '#core/segments/header.ts';
import { decodePart, type PartColumn } from '#core/segments/part.ts';
import { likelyNumber } from '#core/segments/part-numbers.ts';
import { batchFromColumns, isWanted, likelyNames, type WantedColumns, wholePart } from '#core/segments/segment.ts';
import type { Database } from '#store/database.ts';
import { readParts } from '#store/events/segments.ts';
import { openHeader } from './open-header.ts';
import { withCurrentShapes } from './shapes.ts';

/** What is needed to open a segment. */
export interface SegmentRef {
  readonly id: number;
  readonly tier: string;
  readonly source: string;
  readonly events: number;
}

/** Most bytes of opened columns that are kept where nothing is said. */
const maxBytes = 150_000_000;

interface OpenSegment {
  /** The number of each part by its name; empty for a segment that is not there. */
  parts: ReadonlyMap<string, number>;
  readonly columns: Map<string, PartColumn>;
}

/** Segments as far as they have been opened, the least recently used ones forgotten first. */
export class SegmentCache {
  private readonly open: LRUCache<number, OpenSegment>;

  /** `maxSize` is the most bytes of opened columns that are kept; a segment that has more is not kept. */
  constructor(
    private readonly database: Database,
    maxSize = maxBytes,
  ) {
    this.open = new LRUCache({ maxSize, sizeCalculation: sizeOf });
  }

  /** Batches with the wanted columns of some segments, read in as few questions as possible. Absent segments are left out. */
  async batches(
    refs: readonly SegmentRef[],
    wantedOf: (ref: SegmentRef, index: number) => WantedColumns,
  ): Promise<readonly (EventBatch | undefined)[]> {
    const wanted = refs.map(wantedOf);
    const open = await this.entries(refs, [...new Set(wanted.flatMap(likelyNames))]);
    const missing = open.map((entry, i) =>
      [...entry.parts.keys()].filter((name) => isWanted(name, wanted[i] as WantedColumns) && !isOpen(entry, name)),
    );
    const numbers = new Set(
      missing.flatMap((names, i) => names.map((name) => (open[i] as OpenSegment).parts.get(name) as number)),
    );
    const ids = refs.filter((_, i) => (missing[i] as string[]).length > 0).map((ref) => ref.id);
    const entries = new Map(refs.map((ref, i) => [ref.id, open[i] as OpenSegment]));
    let begun = performance.now();
    for (const { segment, data } of await readParts(this.database, ids, [...numbers])) {
      openPart(entries.get(segment), data);
      // A segment may have thousands of columns: others that wait for this thread have their turn in between.
      if (performance.now() - begun < longestStretch) continue;
      await new Promise<void>((resolve) => setImmediate(resolve));
      begun = performance.now();
    }
    return refs.map((ref, i) => {
      const entry = open[i] as OpenSegment;
      // A part that is listed and cannot be read: the segment was removed meanwhile.
      const gone = (missing[i] as string[]).some((name) => !isOpen(entry, name));
      if (entry.parts.size === 0 || gone) return undefined;
      // The size of a value that stays the same is not looked at again: what has grown is put in anew.
      this.open.set(ref.id, { ...entry });
      return withCurrentShapes(
        batchFromColumns(ref.source, ref.events, chosen(entry.columns, wanted[i] as WantedColumns)),
      );
    });
  }

  /** What is open of the segments; of those met for the first time the parts are opened that most likely have `names`. */
  private async entries(refs: readonly SegmentRef[], names: readonly string[]): Promise<readonly OpenSegment[]> {
    const fresh = new Map<number, OpenSegment>();
    for (const { id } of refs) if (!this.open.has(id)) fresh.set(id, { parts: new Map(), columns: new Map() });
    const read = await readParts(this.database, [...fresh.keys()], [headerNumber, ...names.map(likelyNumber)]);
    for (const { segment, number, data } of read) {
      const entry = fresh.get(segment);
      if (number !== headerNumber) openPart(entry, data);
      else if (entry) entry.parts = openHeader(data).parts;
    }
    return refs.map(({ id }) => this.open.get(id) ?? fresh.get(id) ?? { parts: new Map(), columns: new Map() });
  }
}

/** How long parts are opened at a stretch, in milliseconds. */
const longestStretch = 20;

/** Pieces in which a part is inflated, in bytes: as long as it becomes at a guess, so that there are few to put together. */
const inflateRatio = 4;
const shortestPiece = 16_384;
const longestPiece = 262_144;

/** Inflates and decodes a part into its segment. */
function openPart(entry: OpenSegment | undefined, data: Uint8Array): void {
  if (!entry) return;
  const chunkSize = Math.min(longestPiece, Math.max(shortestPiece, data.length * inflateRatio));
  for (const [name, column] of decodePart(inflateRawSync(data, { chunkSize }))) entry.columns.set(name, column);
}

function isOpen(entry: OpenSegment, part: string): boolean {
  return part === wholePart ? entry.columns.size > 0 : entry.columns.has(part);
}

function chosen(columns: ReadonlyMap<string, PartColumn>, wanted: WantedColumns): ReadonlyMap<string, PartColumn> {
  return new Map([...columns].filter(([name]) => isWanted(name, wanted)));
}

function sizeOf(entry: OpenSegment): number {
  let size = 1_000;
  for (const column of entry.columns.values()) {
    if (column.kind === 'body') size += column.table.bytes.byteLength + column.table.offsets.byteLength;
    else if (column.kind === 'text')
      size += column.codes.byteLength + column.table.bytes.byteLength + column.table.offsets.byteLength;
    else size += column.values.byteLength;
  }
  return size;
}
