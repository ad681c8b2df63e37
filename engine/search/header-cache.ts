import { inflateRawSync } from 'node:zlib';
import { LRUCache } from 'lru-cache';
import { decodeHeader, headerNumber, type SegmentHeader } from '#core/segments/header.ts';
import { filterName } from '#core/segments/segment.ts';
import type { ValueFilter } from '#core/segments/value-filter.ts';
import type { Database } from '#store/database.ts';
import { readParts } from '#store/segments.ts';

/** Most bytes of headers and filters that an engine remembers. */
const maxBytes = 128_000_000;

/** Most segments that one question to the store is about. */
const segmentsAtOnce = 256;

/** A column of a segment. */
export interface ColumnOf {
  readonly segment: number;
  readonly column: string;
}

/** What stands at the heads of segments, and the filters of their columns, the least recently used ones forgotten first. */
export class HeaderCache {
  private readonly headers = new LRUCache<number, SegmentHeader>({ maxSize: maxBytes / 2, sizeCalculation: sizeOf });
  private readonly filters = new LRUCache<string, ValueFilter>({
    maxSize: maxBytes / 2,
    sizeCalculation: (filter) => filter.length + 200,
  });

  constructor(private readonly database: Database) {}

  /** The headers of segments by their ids; absent for segments that are gone. */
  async read(ids: readonly number[]): Promise<ReadonlyMap<number, SegmentHeader>> {
    const headers = new Map<number, SegmentHeader>();
    const missing: number[] = [];
    for (const id of ids) {
      const header = this.headers.get(id);
      if (header) headers.set(id, header);
      else missing.push(id);
    }
    for (const some of pieces(missing)) {
      for (const { segment, data } of await readParts(this.database, some, [headerNumber])) {
        const header = decodeHeader(data);
        headers.set(segment, header);
        this.headers.set(segment, header);
      }
    }
    return headers;
  }

  /** Reads filters, so that `filter` has them; what cannot be read is left out. */
  async readFilters(columns: readonly ColumnOf[]): Promise<void> {
    const numbers = new Map<number, Map<number, string>>();
    for (const { segment, column } of columns) {
      const number = this.headers.get(segment)?.parts.get(filterName(column));
      if (number === undefined || this.filters.has(keyOf(segment, column))) continue;
      const wanted = numbers.get(segment) ?? new Map<number, string>();
      numbers.set(segment, wanted.set(number, column));
    }
    for (const some of pieces([...numbers.keys()])) {
      const wanted = new Set(some.flatMap((segment) => [...(numbers.get(segment)?.keys() ?? [])]));
      for (const { segment, number, data } of await readParts(this.database, some, [...wanted])) {
        const column = numbers.get(segment)?.get(number);
        if (column !== undefined) this.filters.set(keyOf(segment, column), inflateRawSync(data));
      }
    }
  }

  /** A filter that has been read. */
  filter({ segment, column }: ColumnOf): ValueFilter | undefined {
    return this.filters.get(keyOf(segment, column));
  }
}

function pieces(ids: readonly number[]): readonly (readonly number[])[] {
  return Array.from({ length: Math.ceil(ids.length / segmentsAtOnce) }, (_, i) =>
    ids.slice(i * segmentsAtOnce, (i + 1) * segmentsAtOnce),
  );
}

function keyOf(segment: number, column: string): string {
  return `${segment} ${column}`;
}

/** About how many bytes a header takes in memory. */
function sizeOf({ parts, statistics }: SegmentHeader): number {
  const minutes = statistics ? statistics.minutes.minute.length * 13 : 0;
  return 500 + parts.size * 120 + (statistics?.columns.size ?? 0) * 250 + minutes;
}
