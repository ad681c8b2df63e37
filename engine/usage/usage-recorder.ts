import { dayOf } from '#core/costs/month/calendar.ts';
import { type Use, usageDays } from '#core/usage/usage.ts';
import { UsageCounts } from '#core/usage/usage-counts.ts';
import type { Database } from '#store/database.ts';
import { addUsage, expireUsage } from '#store/people/usage.ts';

/** Records which events people and programs read, by day, without who they are. */
export class UsageRecorder {
  private readonly counts = new UsageCounts();
  private expired = 0;

  constructor(private readonly database: Database) {}

  /** Records a question that was answered. */
  note(use: Use): void {
    this.counts.add(use, Date.now());
  }

  /** Saves what was recorded since the last time, and forgets what is too old. */
  async save(now: number): Promise<void> {
    const day = dayOf(now);
    const { db } = this.database;
    if (!this.counts.isEmpty) {
      const taken = this.counts.take();
      await db
        .transaction((tx) => addUsage(tx, day, taken))
        .catch((error: unknown) => {
          this.counts.putBack(taken);
          throw error;
        });
    }
    if (this.expired === day) return;
    await expireUsage(db, day - usageDays);
    this.expired = day;
  }

  /** As {@link save}; what cannot be saved now is saved later. */
  async saveIfPossible(now: number): Promise<void> {
    await this.save(now).catch(() => {});
  }
}
