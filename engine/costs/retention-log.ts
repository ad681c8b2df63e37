import type { KeptSince } from '#core/costs/retention/retention-history.ts';
import { parseDuration } from '#core/events/units.ts';
import { passingTier, rejectsTier } from '#core/routing/built-in-tiers.ts';
import { graceTime } from '#core/routing/retention.ts';
import type { Database } from '#store/database.ts';
import { publishedPlans } from '../plan/stored-plans.ts';

/** Revisions that are read at once. */
const revisionsAtOnce = 50;

/** For how long tiers kept events, through all revisions; each is read once. */
export class RetentionLog {
  private readonly tiers = new Map<string, KeptSince[]>([
    [passingTier.id, [{ since: 0, keep: passingTier.keep }]],
    [rejectsTier.id, [{ since: 0, keep: rejectsTier.keep }]],
  ]);
  private latest = 0;
  private reading: Promise<void> = Promise.resolve();

  constructor(private readonly database: Database) {}

  /** Everything up to the revision in force, by tier. */
  async stretches(): Promise<ReadonlyMap<string, readonly KeptSince[]>> {
    this.reading = this.reading.catch(() => {}).then(() => this.read());
    await this.reading;
    return this.tiers;
  }

  private async read(): Promise<void> {
    for (;;) {
      const plans = await publishedPlans(this.database.db, this.latest, revisionsAtOnce);
      for (const { number, plan, publishedAt } of plans) {
        for (const { id, keep } of plan.tiers) this.note(id, parseDuration(keep) ?? 0, publishedAt);
        this.latest = number;
      }
      if (plans.length < revisionsAtOnce) return;
    }
  }

  private note(tier: string, keep: number, publishedAt: number): void {
    let stretches = this.tiers.get(tier);
    if (!stretches) this.tiers.set(tier, (stretches = []));
    const before = stretches.at(-1)?.keep;
    if (before === keep) return;
    stretches.push({ since: before !== undefined && keep < before ? publishedAt + graceTime : publishedAt, keep });
  }
}
