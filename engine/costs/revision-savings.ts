import { dayLength } from '#core/costs/month/calendar.ts';
import { coinsByMonth, type MonthCoins } from '#core/costs/month/coins-by-month.ts';
import type { RehearsedFlow } from '#core/rehearsal/flows.ts';
import { type RevisionPlans, savedByRevision } from '#core/rehearsal/revision-saving.ts';
import { wholeMinutes } from '#core/views/revision-effect.ts';
import type { Database } from '#store/database.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import type { ShownPrices } from './shown-prices.ts';

/** For how long (milliseconds) what a revision saved is given again, while it is live and after. */
const freshFor = { live: 60_000, over: 3_600_000 };
/** Most revisions whose savings are remembered. */
const mostKnown = 100;

/** A revision whose saving is asked for; `until` is when the next one came, undefined while it is live. */
export interface MeasuredRevision {
  readonly number: number;
  readonly publishedAt: number;
  readonly until: number | undefined;
  /** What its rehearsal found; none where there was no rehearsal. */
  readonly flows: readonly RehearsedFlow[];
}

/** What a revision saved so far, in coins; negative where it cost more. */
export interface RevisionSaving {
  readonly coins: number;
  readonly months: readonly MonthCoins[];
}

interface KnownSaving {
  readonly at: number;
  readonly savedAt: number;
  readonly until: number | undefined;
  readonly saved: Promise<RevisionSaving | null>;
}

/** What revisions saved, remembered for a while: it takes the ledger of all the time that they were live. */
export class RevisionSavings {
  private readonly known = new Map<number, KnownSaving>();

  constructor(private readonly database: Database) {}

  /** Null where its rehearsal was not noted, or it was not live for a whole minute. */
  async of(revision: MeasuredRevision, plans: RevisionPlans, prices: ShownPrices): Promise<RevisionSaving | null> {
    const now = Date.now();
    const { number: which, until } = revision;
    const before = this.known.get(which);
    const isFresh = before && now - before.at < (until === undefined ? freshFor.live : freshFor.over);
    if (isFresh && before.savedAt === prices.savedAt && before.until === until) return await before.saved;
    const saved = this.reckon(revision, plans, prices, now);
    this.known.set(which, { at: now, savedAt: prices.savedAt, until, saved });
    const forget = (): boolean => this.known.delete(which);
    // A failure is not given again, nor that it has not been live for a minute.
    saved.then((saving) => saving ?? forget(), forget);
    if (this.known.size > mostKnown) this.known.delete(Math.min(...this.known.keys()));
    return await saved;
  }

  private async reckon(
    { publishedAt, until, flows }: MeasuredRevision,
    plans: RevisionPlans,
    prices: ShownPrices,
    now: number,
  ): Promise<RevisionSaving | null> {
    const stretch = wholeMinutes(publishedAt, until ?? now);
    if (flows.length === 0 || !stretch) return null;
    const came = await sumLedger(this.database, stretch, ['source', 'outcome', 'tier'], dayLength);
    const ofDays = savedByRevision(flows, came, prices, plans);
    const months = coinsByMonth(ofDays, stretch, prices.currency.digits);
    return { coins: months.reduce((sum, { coins }) => sum + coins, 0), months };
  }
}
