import { changeCount } from '#store/cluster/counters.ts';
import type { News } from '#store/cluster/news.ts';
import type { Database } from '#store/database.ts';
import type { StoreWatch } from '../watches/store-watch.ts';

/** Everything is looked at again after so long even if nothing is said to have changed (milliseconds). */
const lookAnyway = 60_000;

/** Keeps this engine up to date with what people change, at whichever engine: it looks whether something has, and reads it. */
export class Changes {
  /** What was new at the last look; undefined before the first. */
  news: News | undefined;
  private seen = -1;
  private lookedAt = 0;

  constructor(
    private readonly database: Database,
    private readonly watch: Pick<StoreWatch, 'look'>,
    /** Reads everything that people can change. */
    private readonly readAll: () => Promise<void>,
  ) {}

  /** Reads everything anew at once: this engine has changed something itself. */
  async refresh(): Promise<void> {
    const count = await changeCount(this.database);
    await this.readAll();
    this.seen = Math.max(this.seen, count);
    this.lookedAt = Date.now();
  }

  /** Looks whether something changed since the last time. */
  async look(): Promise<void> {
    const news = await this.watch.look();
    if (!news) return;
    this.news = news;
    if (news.changes === this.seen && Date.now() - this.lookedAt < lookAnyway) return;
    await this.refresh();
  }
}
