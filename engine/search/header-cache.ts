import { inflateRawSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { headerNumber, type SegmentHeader } from '#core/segments/header.ts';
import { filterName } from '#core/segments/segment.ts';
import type { ValueFilter } from '#core/segments/value-filter.ts';
import type { Database } from '#store/database.ts';
import { readParts } from '#store/events/segments.ts';
import { openHeader } from '../workers/open-header.ts';

/** Segments whose headers are read together. */
const segmentsAtOnce = 256;

/** Most bytes of headers and filters that an engine remembers. */
const maxBytes = 128_000_000;

/** A column of a segment. */
export interface ColumnOf {
  readonly segment: number;
  readonly column: string;
}

/** What is at the heads of segments, and the filters of their columns, the least recently used ones forgotten first. */
export class HeaderCache {
  private readonly headers = new LRUCache<number, SegmentHeader>({ maxSize: maxBytes / 2, sizeCalculation: sizeOf });
  private readonly filters = new LRUCache<string, ValueFilter>({
    maxSize: maxBytes / 2,
    sizeCalculation: (filter) => filter.length + 200,
  });

  constructor(private readonly database: Database) {}

  /** The headers of a few hundred segments at most, by their ids; absent for segments that are gone. */
  async read(ids: readonly number[]): Promise<ReadonlyMap<number, SegmentHeader>> {
    const headers = new Map<number, SegmentHeader>();
    for (const id of ids) {
      const header = this.headers.get(id);
      if (header) headers.set(id, header);
    }
    const missing = ids.filter((id) => !headers.has(id));
    for (const { segment, data } of await readParts(this.database, missing, [headerNumber])) {
      const header = openHeader(data);
      headers.set(segment, header);
      this.headers.set(segment, header);
    }
    return headers;
  }

  /** Some segments after the other, each time with the headers that are there; those that were gone through can be let go. */
  async *pieces<Segment extends { readonly id: number }>(
    segments: readonly Segment[],
  ): AsyncGenerator<readonly [segments: readonly Segment[], headers: ReadonlyMap<number, SegmentHeader>]> {
    for (let at = 0; at < segments.length; at += segmentsAtOnce) {
      const some = segments.slice(at, at + segmentsAtOnce);
      yield [some, await this.read(some.map(({ id }) => id))];
    }
  }

  /** Reads the filters of columns, whose segments have these headers, so that `filter` has them; what is gone is left out. */
  async readFilters(columns: readonly ColumnOf[], headers: ReadonlyMap<number, SegmentHeader>): Promise<void> {
    const keys = new Map<string, string>();
    const segments = new Set<number>();
    const numbers = new Set<number>();
    for (const { segment, column } of columns) {
      const number = headers.get(segment)?.parts.get(filterName(column));
      if (number === undefined || this.filters.has(keyOf(segment, column))) continue;
      keys.set(`${segment} ${number}`, keyOf(segment, column));
      segments.add(segment);
      numbers.add(number);
    }
    for (const { segment, number, data } of await readParts(this.database, [...segments], [...numbers])) {
      const key = keys.get(`${segment} ${number}`);
      if (key !== undefined) this.filters.set(key, inflateRawSync(data));
    }
  }

  /** A filter that has been read. */
  filter({ segment, column }: ColumnOf): ValueFilter | undefined {
    return this.filters.get(keyOf(segment, column));
  }
}

function keyOf(segment: number, column: string): string {
  return `${segment} ${column}`;
}

/** About how many bytes a header takes in memory. */
function sizeOf({ parts, statistics }: SegmentHeader): number {
  const minutes = statistics ? statistics.minutes.minute.length * 13 : 0;
  return 500 + parts.size * 120 + (statistics?.columns.size ?? 0) * 250 + minutes;
}
