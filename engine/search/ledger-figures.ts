import { conditionOf } from '#core/conditions/condition.ts';
import { hour, type minute } from '#core/events/time-units.ts';
import { minuteSpan } from '#core/routing/ledger.ts';
import { judge } from '#core/segments/judge.ts';
import { isAboutCounts } from '#core/views/shapes.ts';
import type { Explanation } from '#core/why/causes.ts';
import type { Measure } from '#core/why/measure.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import type { Figures } from './figure-reader.ts';
import type { SearchSetting } from './run-search.ts';

/** Whether the ledger counts a figure of the events that match a condition. */
export function isCountedByLedger(condition: string, { volume, shareOf, isCost }: Measure): boolean {
  if (isCost || !isAboutCounts(conditionOf(condition))) return false;
  return volume !== undefined || (shareOf !== undefined && isAboutCounts(shareOf));
}

/** Reads a figure from the ledger, which has sources, tiers, shapes and severities, but no other fields. */
export class LedgerFigures {
  private readonly now = Date.now();

  constructor(
    private readonly setting: SearchSetting,
    private readonly measure: Measure,
    private readonly measureText: string,
  ) {}

  /** The figure in complete intervals: hours, or minutes (see {@link hasMinutes}). */
  async series(condition: string, { from, to }: Period, every: typeof hour | typeof minute): Promise<Figures> {
    const start = Math.ceil(from / every) * every;
    const end = Math.max(start, Math.floor(to / every) * every);
    const period = { from: start, to: end };
    const task = { ...this.task(condition), kind: 'ledgerSeries' as const, period, every };
    const { amounts, events } = await this.setting.pools.read(0, task);
    const isShare = this.measure.shareOf !== undefined;
    return {
      start,
      width: every,
      figures: isShare ? amounts.map((amount, i) => amount / (events[i] as number)) : amounts,
      events,
    };
  }

  /** Whether the ledger still has minutes from a time on (milliseconds). */
  hasMinutes(from: number): boolean {
    return from >= this.now - minuteSpan + hour;
  }

  /** Which sources, tiers, shapes and severities explain a change between periods. */
  async explain(condition: string, times: ComparedPeriods, hasBegun: boolean): Promise<Explanation> {
    return await this.setting.pools.read(0, { ...this.task(condition), kind: 'whyLedger', times, hasBegun });
  }

  private task(condition: string) {
    const { fleets } = this.setting;
    return { condition, measure: this.measureText, sources: this.sourcesOf(condition), fleets, now: this.now };
  }

  /** The sources that a condition may be about; undefined if it does not tell sources apart. */
  private sourcesOf(condition: string): readonly string[] | undefined {
    const { names, fleets } = this.setting;
    const { node } = conditionOf(condition);
    const may = (source: string): boolean =>
      names.tiers.some((tier) => {
        const segment = { source, tier, from: 0, to: this.now, events: 1 };
        return judge(node, segment, { now: this.now, fleets: fleets.get(source) ?? [] }, () => undefined).may;
      });
    const sources = names.sources.filter(may);
    // A source that was removed is known to the ledger alone.
    return sources.length === 0 || sources.length === names.sources.length ? undefined : sources;
  }
}
