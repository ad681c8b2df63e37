import { day, hour } from '#core/events/time-units.ts';
import { volumeDrift } from '#core/health/volume-band.ts';
import type { Database } from '#store/database.ts';
import { addDrifts, listDrifts } from '#store/sources/drifts.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { bySource } from './by-source.ts';

/**
 * Notices sources that send more or less than is usual for the hour. One that does so at two looks on end is reported, once
 * until it is usual again: a look may fall into the time in which history is being brought in.
 */
export class VolumeWatch {
  private noticed: ReadonlyMap<string, string> = new Map();
  /** Which sources were reported, and on which side. */
  private reported: Map<string, string> | undefined;
  private token = 0;

  constructor(private readonly database: Database) {}

  /** Looks at the hour before `now` (milliseconds), under a lease with this token; what is new joins the changes. */
  async look(now: number, token: number): Promise<void> {
    // What another engine reported meanwhile is in the store.
    if (token !== this.token) this.reported = undefined;
    this.token = token;
    this.reported ??= await this.reportedBefore(now);
    const hours = bySource(await sumLedger(this.database, { from: now - 15 * day, to: now }, ['source'], hour));
    const minutes = bySource(await sumLedger(this.database, { from: now - 3 * hour, to: now }, ['source'], 60_000));
    const noticed = new Map<string, string>();
    for (const [source, sent] of minutes) {
      const drift = volumeDrift(hours.get(source) ?? [], sent, now);
      if (!drift) this.reported.delete(source);
      else {
        noticed.set(source, drift.subject);
        if (this.reported.get(source) === drift.subject || this.noticed.get(source) !== drift.subject) continue;
        await addDrifts(this.database, [{ ...drift, source, noticedAt: now }]);
        this.reported.set(source, drift.subject);
      }
    }
    this.noticed = noticed;
  }

  private async reportedBefore(now: number): Promise<Map<string, string>> {
    const drifts = await listDrifts(this.database, now - day);
    // The newest come first, and the last one set is the one that counts.
    return new Map(
      drifts
        .filter(({ kind }) => kind === 'volume-moved')
        .reverse()
        .map(({ source, subject }) => [source, subject]),
    );
  }
}
