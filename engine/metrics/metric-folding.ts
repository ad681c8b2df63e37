import { type Chunk, ChunkBuilder, mergeChunk, wholeSeries } from '#core/metrics/chunks.ts';
import type { SavedTop } from '#core/metrics/key-top.ts';
import { hours, levels, placesOf } from '#core/metrics/levels.ts';
import { type MetricDelta, unpackMetricDeltas } from '#core/metrics/metric-delta.ts';
import { packPoints, unpackPoints } from '#core/metrics/pack-points.ts';
import { pointsOf } from '#core/metrics/stored-points.ts';
import type { Aggregate } from '#core/summaries/summary.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import {
  addMetric,
  listMetrics,
  listSeries,
  readChunks,
  readMetricDeltas,
  removeMetricDeltas,
  seeSeries,
  writeChunks,
} from '#store/metrics/metrics.ts';
import { readLearnt, saveLearnt } from '#store/sources/health-deltas.ts';
import { KnownMetric, seriesSpan } from './known-metric.ts';

/** Most groups whose points are put where they belong in one transaction. */
const groupsAtOnce = 200;
/** Under which the tops of keys are saved. */
const topsName = 'metric tops';

type SavedTops = Readonly<Record<string, Readonly<Record<string, SavedTop>>>>;

/**
 * Puts what groups of events brought for metrics into the chunks of their series, each once: in the transaction that
 * forgets it. Only the holder of the lease does it.
 */
export class MetricFolding {
  private known = new Map<string, KnownMetric>();
  private stored = new Map<string, number>();
  private savedTops: SavedTops = {};
  /** The token of the lease under which everything was read. */
  private token = 0;

  constructor(private readonly database: Database) {}

  /** Does it for all that waits. Returns of how many groups. */
  async round(lease: Lease, now: number): Promise<number> {
    if (lease.token !== this.token) await this.load(lease.token);
    let folded = 0;
    for (let more = true; more; ) {
      const read = await this.foldSome(lease, now).catch((error: unknown) => {
        // What was decided and could not be written is read anew.
        this.token = 0;
        throw error;
      });
      folded += read;
      more = read === groupsAtOnce;
    }
    return folded;
  }

  private async load(token: number): Promise<void> {
    const { db } = this.database;
    this.known = new Map();
    this.stored = new Map((await listMetrics(db)).map(({ metric, points, number }) => [keyOf(metric, points), number]));
    // What was written under this name has its type.
    this.savedTops = ((await readLearnt(db, topsName)) ?? {}) as SavedTops;
    this.token = token;
  }

  private async foldSome(lease: Lease, now: number): Promise<number> {
    return await this.database.db.transaction(async (tx) => {
      await guardLease(tx, lease);
      const groups = await readMetricDeltas(tx, groupsAtOnce);
      if (groups.length === 0) return 0;
      const byMetric = new Map<string, MetricDelta[]>();
      for (const delta of groups.flatMap(({ data }) => unpackMetricDeltas(data))) {
        const key = keyOf(delta.id, pointsOf(delta.measure, delta.field));
        const list = byMetric.get(key);
        if (list) list.push(delta);
        else byMetric.set(key, [delta]);
      }
      let newTops = false;
      for (const list of byMetric.values()) if (await this.fold(tx, list, now)) newTops = true;
      if (newTops) await this.saveTops(tx);
      await removeMetricDeltas(
        tx,
        groups.map(({ id }) => id),
      );
      return groups.length;
    });
  }

  /** Puts the deltas of one metric into its chunks. Returns whether the tops of its keys are to be saved. */
  private async fold(tx: Queryable, deltas: readonly MetricDelta[], now: number): Promise<boolean> {
    const [first] = deltas;
    if (!first) return false;
    const known = await this.knownMetric(tx, first);
    const aggregates = first.measure.aggregates(first.field);
    const newTops = deltas.map((one) => known.countTops(one, now)).includes(true);
    const hashes = deltas.map((one) => one.cells.map(({ labels, start }) => known.seriesFor(one, labels, start, now)));
    if (deltas.some(({ keys }) => keys.length > 0)) known.written(await seeSeries(tx, known.unwritten()));
    const chunks = new ChunkBuilder(aggregates, now);
    for (const [i, { cells, points, keys }] of deltas.entries())
      for (const [place, { start }] of cells.entries()) {
        chunks.add(wholeSeries, start, points, place);
        const series = keys.length > 0 ? known.numberOf(hashes[i]?.[place] ?? '') : undefined;
        if (series !== undefined) chunks.add(series, start, points, place);
      }
    await mergeIntoStore(tx, known.number, chunks.list(), aggregates);
    return newTops;
  }

  private async knownMetric(tx: Queryable, { id, measure, field }: MetricDelta): Promise<KnownMetric> {
    const points = pointsOf(measure, field);
    const key = keyOf(id, points);
    const known = this.known.get(key);
    if (known) return known;
    const number = this.stored.get(key) ?? (await addMetric(tx, id, points));
    this.stored.set(key, number);
    const series = await listSeries(tx, number, Date.now() - seriesSpan);
    const fresh = new KnownMetric(number, series, this.savedTops[String(number)] ?? {});
    this.known.set(key, fresh);
    return fresh;
  }

  private async saveTops(tx: Queryable): Promise<void> {
    const tops = [...this.known.values()].map((metric) => [String(metric.number), metric.saveTops()] as const);
    this.savedTops = { ...this.savedTops, ...Object.fromEntries(tops) };
    await saveLearnt(tx, topsName, this.savedTops);
  }
}

function keyOf(metric: string, points: string): string {
  return `${metric} ${points}`;
}

/** Adds chunks to those that are stored. */
async function mergeIntoStore(
  tx: Queryable,
  metric: number,
  chunks: readonly Chunk[],
  aggregates: readonly Aggregate[],
): Promise<void> {
  for (const level of levels) {
    const ofLevel = chunks.filter((chunk) => chunk.level === level);
    if (ofLevel.length === 0) continue;
    const starts = [...new Set(ofLevel.map(({ start }) => start))];
    const series = [...new Set(ofLevel.map((chunk) => chunk.series))];
    const stored = await readChunks(tx, { metric, level: level.level }, starts, { series, locked: true });
    const dataOf = new Map(stored.map((chunk) => [`${chunk.start} ${chunk.series}`, chunk.data]));
    const places = placesOf(level);
    for (const chunk of ofLevel) {
      const data = dataOf.get(`${chunk.start} ${chunk.series}`);
      if (data) mergeChunk(chunk.points, unpackPoints(data, aggregates, places), places);
    }
    await writeChunks(
      tx,
      ofLevel.map(({ start, series: of, points }) => ({
        ...{ metric, level: level.level, start, series: of },
        fresh: level !== hours,
        data: packPoints(points, places),
      })),
    );
  }
}
