import { day, hour, minute } from '#core/events/time-units.ts';
import { isHabit, isUnheardOf, surgeAt, surgeDrift, type UsualRate, usualRate } from '#core/health/surge.ts';
import type { SentBytes } from '#core/health/volume-band.ts';
import type { Database } from '#store/database.ts';
import { addDrifts, listDrifts } from '#store/sources/drifts.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { bySource } from './by-source.ts';

/** How far back minutes are read to find when a surge began. */
const looksBack = 30 * minute;
/** A surge that was over for so long is a new one when it comes back (milliseconds). */
const overFor = 10 * minute;

/** Notices within minutes that a source sends many times what is usual for the hour. Each surge is reported once, as a change of the source. */
export class SurgeWatch {
  /** Of the hour `usualOf`. */
  private usual: ReadonlyMap<string, UsualRate> = new Map();
  private usualOf = 0;
  /** When each source was last seen in a surge that was reported. */
  private readonly going = new Map<string, number>();

  constructor(private readonly database: Database) {}

  /** Looks at the minutes before `now` (milliseconds). */
  async look(now: number): Promise<void> {
    await this.learn(now);
    const last = bySource(await this.minutes(now - 3 * minute, now));
    for (const [source, sent] of last) {
      const usual = this.usual.get(source);
      if (!usual || !surgeAt(usual, sent, now)) continue;
      const isGoing = now - (this.going.get(source) ?? 0) < overFor;
      if (isGoing || (await this.tell(source, usual, now))) this.going.set(source, now);
    }
  }

  /** Reports a surge unless it is known or the way of the source; returns whether there is one that is reported. */
  private async tell(source: string, usual: UsualRate, now: number): Promise<boolean> {
    const surge = surgeAt(usual, await this.minutes(now - looksBack, now, source), now);
    if (!surge) return false;
    const before = (await listDrifts(this.database, now - 29 * day, source)).filter(
      ({ kind }) => kind === 'volume-surged',
    );
    // Another engine, or this one before it was started again.
    if (before.some(({ noticedAt }) => now - noticedAt < hour)) return true;
    const starts = before.map(({ since }) => since);
    if (isHabit(surge.since, starts)) return false;
    if (!isUnheardOf(surge, await this.minutes(surge.since - day, surge.since, source))) return false;
    await addDrifts(this.database, [{ ...surgeDrift(surge), source, noticedAt: now }]);
    return true;
  }

  private async learn(now: number): Promise<void> {
    const here = Math.floor(now / hour) * hour;
    if (here === this.usualOf) return;
    const window = { from: now - 15 * day, to: here };
    const hours = bySource(await sumLedger(this.database, window, ['source'], hour));
    const usual = [...hours].map(([source, sent]) => [source, usualRate(sent, now)] as const);
    this.usual = new Map(usual.flatMap(([source, rate]) => (rate ? [[source, rate]] : [])));
    this.usualOf = here;
  }

  private async minutes(
    from: number,
    to: number,
    source?: string,
  ): Promise<readonly (SentBytes & { source?: string })[]> {
    return await sumLedger(this.database, { from, to, ...(source !== undefined && { source }) }, ['source'], minute);
  }
}
