import type { PriceBook } from '#core/costs/book/price-book.ts';
import type { CostSetting } from '#core/costs/cost-table.ts';
import { type DaySeries, receivedByDay } from '#core/costs/day-series.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { compilePrices } from '#core/costs/prices.ts';
import { type KeptSince, retentionHistory } from '#core/costs/retention/retention-history.ts';
import { StoredShares } from '#core/costs/retention/stored-shares.ts';
import { fleetsBySource } from '#core/health/fleets.ts';
import { type RecentDays, recentDays } from '#core/rehearsal/recent-days.ts';
import type { Database } from '#store/database.ts';
import { seriesByDay } from '#store/metrics/metric-days.ts';
import { listFleets } from '#store/sources/fleets.ts';
import { listSources } from '#store/sources/sources.ts';
import { DayVolumes } from './day-volumes.ts';
import { RetentionLog } from './retention-log.ts';

/** What the costs of some days are reckoned from. */
export interface CostInputs {
  readonly series: readonly DaySeries[];
  readonly of: CostSetting;
  /** What tiers kept for how long since when. */
  readonly stretches: ReadonlyMap<string, readonly KeptSince[]>;
}

/** Reads what costs are reckoned from; volume is at most some seconds old. */
export class CostReader {
  private readonly volumes: DayVolumes;
  private readonly log: RetentionLog;

  constructor(private readonly database: Database) {
    this.volumes = new DayVolumes(database);
    this.log = new RetentionLog(database);
  }

  /** Volume of recent full days, by source and shape. */
  async recentDays(now: number): Promise<RecentDays> {
    return recentDays(await this.volumes.series(now, true), dayOf(now));
  }

  /** How much of what arrives is stored, as it was in the last days. */
  async storedShares(now: number): Promise<StoredShares> {
    return new StoredShares(await this.volumes.series(now), dayOf(now));
  }

  /** The ids of all tiers that any revision has had, the oldest first. */
  async tiersByAge(): Promise<readonly string[]> {
    return [...(await this.log.stretches()).keys()];
  }

  /** Volume by source, tier and outcome, with `withShapes` by shape and severity too, to be priced by a book. */
  async read(book: PriceBook, now: number, withShapes = false): Promise<CostInputs> {
    const [series, stretches, sources, fleets, ofMetrics] = await Promise.all([
      this.volumes.series(now, withShapes),
      this.log.stretches(),
      listSources(this.database),
      listFleets(this.database),
      seriesByDay(this.database.db),
    ]);
    const fleetsOf = fleetsBySource(sources, fleets);
    const owners = new Map(sources.map(({ name, owner }) => [name, owner]));
    return {
      series,
      stretches,
      of: {
        prices: compilePrices(book),
        retention: retentionHistory(stretches),
        teamOf: (source) => owners.get(source) ?? '',
        fleetsOf: (source) => fleetsOf.get(source) ?? [],
        receivedOn: receivedByDay(series),
        seriesOn: (day) => ofMetrics.get(day) ?? 0,
      },
    };
  }
}
