import { createHash } from 'node:crypto';
import { day, hour } from '#core/events/time-units.ts';
import { KeyTop, type SavedTop } from '#core/metrics/key-top.ts';
import { isRest, type Labels, restLabels, type SeriesLabels, theRest } from '#core/metrics/labels.ts';
import type { MetricDelta } from '#core/metrics/metric-delta.ts';
import type { StoredSeries } from '#store/metrics/metrics.ts';

/** Series that something came for within this time (milliseconds) count towards the limit of their metric. */
export const seriesSpan = 30 * day;

/** A series, and when it was seen; times in milliseconds. */
type Seen = Omit<StoredSeries, 'number'>;

/**
 * What the engine that puts points where they belong knows of a metric: its series, and the tops of its keys. Decides to
 * which series events go.
 */
export class KnownMetric {
  private readonly numbers = new Map<string, number>();
  private readonly seen = new Map<string, Seen>();
  private readonly toWrite = new Map<string, Seen>();
  private readonly tops = new Map<string, KeyTop>();
  private readonly ids = new Map<string, string>();

  constructor(
    readonly number: number,
    series: readonly StoredSeries[],
    private readonly savedTops: Readonly<Record<string, SavedTop>>,
  ) {
    for (const { number: of, ...row } of series) {
      this.numbers.set(row.hash, of);
      this.seen.set(row.hash, row);
    }
  }

  /** Counts the values of keys that are cut to their top, and chooses anew where it is time. Returns whether to save that. */
  countTops({ keys, cells, events }: MetricDelta, now: number): boolean {
    let isNew = false;
    for (const [i, { name, top }] of keys.entries()) {
      if (top === undefined) continue;
      const known = this.topOf(name, top, now);
      for (const [k, { labels }] of cells.entries()) {
        const value = labels[i];
        if (typeof value === 'string') known.add(value, events[k] as number);
      }
      if (known.choose(now)) isNew = true;
    }
    return isNew;
  }

  /** What is to be saved of the tops of its keys. */
  saveTops(): Readonly<Record<string, SavedTop>> {
    return Object.fromEntries([...this.tops].map(([name, top]) => [name, top.save()]));
  }

  /** The hash of the series that a cell goes to; one that is new has a number after {@link written}. */
  seriesFor({ keys, limit }: Pick<MetricDelta, 'keys' | 'limit'>, given: Labels, start: number, now: number): string {
    const labels = given.map((value, i) => {
      const { name = '', top } = keys[i] ?? {};
      return typeof value === 'string' && top !== undefined && !this.topOf(name, top, now).has(value) ? theRest : value;
    });
    const hash = this.hashOf(keys, labels);
    if (!this.seen.has(hash) && !isRest(labels) && this.isFull(limit, now))
      return this.seeAt(keys, restLabels(keys.length), start);
    return this.seeAt(keys, labels, start);
  }

  /** Series that are new, or were seen later or earlier than is written. */
  unwritten(): readonly Seen[] {
    return [...this.toWrite.values()];
  }

  /** Notes that they are written, under which numbers. */
  written(numbers: ReadonlyMap<string, number>): void {
    for (const [hash, number] of numbers) this.numbers.set(hash, number);
    this.toWrite.clear();
  }

  numberOf(hash: string): number | undefined {
    return this.numbers.get(hash);
  }

  private seeAt(keys: MetricDelta['keys'], labels: Labels, start: number): string {
    const hash = this.hashOf(keys, labels);
    const known = this.seen.get(hash);
    const lastSeen = Math.floor(start / hour) * hour;
    if (known && known.lastSeen >= lastSeen && known.firstSeen <= start) return hash;
    const row: Seen = {
      metric: this.number,
      hash,
      labels: Object.fromEntries(keys.map(({ name }, i) => [name, labels[i] ?? null])),
      firstSeen: Math.min(start, known?.firstSeen ?? start),
      lastSeen: Math.max(lastSeen, known?.lastSeen ?? 0),
    };
    this.seen.set(hash, row);
    this.toWrite.set(hash, row);
    return hash;
  }

  /** Whether there is no room for another series: those that nothing came for in a long time do not count. */
  private isFull(limit: number, now: number): boolean {
    if (this.seen.size < limit) return false;
    for (const [hash, { lastSeen }] of this.seen) if (lastSeen < now - seriesSpan) this.seen.delete(hash);
    return this.seen.size >= limit;
  }

  private topOf(name: string, most: number, now: number): KeyTop {
    let top = this.tops.get(name);
    if (top?.most !== most) {
      top = new KeyTop(most, top?.save() ?? this.savedTops[name], now);
      this.tops.set(name, top);
    }
    return top;
  }

  /** SHA-256 of the labels in the order of the names of their keys. */
  private hashOf(keys: MetricDelta['keys'], labels: Labels): string {
    const id = JSON.stringify([keys.map(({ name }) => name), labels]);
    const known = this.ids.get(id);
    if (known) return known;
    const named: SeriesLabels = Object.fromEntries(
      keys.map(({ name }, i) => [name, labels[i] ?? null] as const).sort(([a], [b]) => (a < b ? -1 : 1)),
    );
    const hash = createHash('sha256').update(JSON.stringify(named)).digest('hex');
    if (this.ids.size > mostIds) this.ids.clear();
    this.ids.set(id, hash);
    return hash;
  }
}

/** Most hashes that are remembered. */
const mostIds = 100_000;
