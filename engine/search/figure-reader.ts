import type { WhyAnswer } from '#core/answers/why.ts';
import { withPart } from '#core/conditions/parts.ts';
import { inBrackets } from '#core/conditions/saved.ts';
import { minute } from '#core/events/time-units.ts';
import { type ColumnUnit, maxRows, type SummaryTable } from '#core/summaries/summary-table.ts';
import { type EventPrices, eventPriceOf } from '#core/why/event-prices.ts';
import type { Measure } from '#core/why/measure.ts';
import type { Period } from '#core/why/periods.ts';
import type { JudgedSegment } from './judged-segments.ts';
import { runSearch, type SearchSetting } from './run-search.ts';

/** A figure over time in intervals of `width` milliseconds, NaN without events, and the events of each interval. */
export interface Figures {
  readonly start: number;
  readonly width: number;
  readonly figures: Float64Array;
  readonly events: Float64Array;
}

/** Reads a figure over time by searching some tiers. */
export class FigureReader {
  /** Unit of the measure, known after `series`. */
  unit: WhyAnswer['unit'] = 'none';

  constructor(
    private readonly setting: SearchSetting,
    private readonly measure: Measure,
    private readonly tiers: readonly string[],
    private readonly signal: AbortSignal,
    private readonly prices?: EventPrices,
  ) {}

  /** The measured figure of the events that match a condition, in complete intervals of `width` milliseconds (whole minutes). */
  async series(condition: string, period: Period, width: number): Promise<Figures> {
    const { shareOf, summary, isCost } = this.measure;
    if (isCost) {
      this.unit = 'coins';
      return await this.costs(condition, period, width);
    }
    if (shareOf) {
      this.unit = 'share';
      return await this.shares(condition, shareOf.text, period, width);
    }
    const { unit, ...figures } = await this.read(condition, summary.text, period, width);
    this.unit = unit;
    return figures;
  }

  /** In the same intervals, the share of the matching events that match a second condition as well. */
  async shares(condition: string, second: string, period: Period, width: number): Promise<Figures> {
    const both = withPart(condition, inBrackets(second));
    const [{ unit: _, ...all }, some] = await Promise.all([
      this.read(condition, 'count()', period, width),
      this.read(both, 'count()', period, width),
    ]);
    return { ...all, figures: some.events.map((count, i) => count / (all.events[i] as number)) };
  }

  /** In the same intervals, the cost of the matching events until they expire. */
  private async costs(condition: string, period: Period, width: number): Promise<Figures> {
    const { start, count } = intervalsOf(period, width);
    const figures = new Float64Array(count);
    const events = new Float64Array(count);
    // The result of a search is limited, so a few intervals are read at a time.
    const together = Math.max(1, Math.floor(maxRows / Math.max(1, this.prices?.size ?? 0)));
    for (let place = 0; place < count; place += together) {
      const end = Math.min(count, place + together);
      const summary = await this.summary(
        condition,
        { from: start + place * width, to: start + end * width },
        `count() as events, sum(raw_bytes) as bytes by source, tier every ${width / minute}m`,
      );
      for (const [time, source, tier, counted, bytes] of summary?.rows ?? []) {
        const at = Math.round((Number(time) - start) / width);
        const price = eventPriceOf(this.prices, { source: String(source), tier: String(tier) });
        figures[at] = (figures[at] as number) + Number(counted) * price.perEvent + Number(bytes) * price.perByte;
        events[at] = (events[at] as number) + Number(counted);
      }
    }
    return { start, width, figures, events };
  }

  private async read(
    condition: string,
    figure: string,
    period: Period,
    width: number,
  ): Promise<Figures & { readonly unit: ColumnUnit }> {
    const { start, count } = intervalsOf(period, width);
    const figures = new Float64Array(count).fill(Number.NaN);
    const events = new Float64Array(count);
    if (count === 0) return { start, width, figures, events, unit: 'none' };
    const summary = await this.summary(
      condition,
      { from: start, to: start + count * width },
      `${figure} as figure, count() as events every ${width / minute}m`,
    );
    for (const [time, value, counted] of summary?.rows ?? []) {
      const place = Math.round((Number(time) - start) / width);
      if (typeof value === 'number') figures[place] = value;
      events[place] = Number(counted);
    }
    return { start, width, figures, events, unit: summary?.columns[1]?.unit ?? 'none' };
  }

  private async summary(condition: string, period: Period, summary: string): Promise<SummaryTable | undefined> {
    const query = { condition, ...period, limit: 0, buckets: 0, fields: false, summary };
    const { tiers, signal } = this;
    return (await runSearch(this.setting, query, { tiers, signal, progress: () => {} })).summary;
  }
}

/** The complete intervals in a period: the start of the first one, and how many. */
function intervalsOf({ from, to }: Period, width: number): { readonly start: number; readonly count: number } {
  const start = Math.ceil(from / width) * width;
  return { start, count: Math.max(0, Math.floor((to - start) / width)) };
}

/** Events in complete intervals of `width` milliseconds, if the headers of all segments say them by the minute; else undefined. */
export function countsByMinute(segments: readonly JudgedSegment[], period: Period, width: number): Figures | undefined {
  const { start, count } = intervalsOf(period, width);
  const figures = new Float64Array(count);
  for (const { minutes } of segments) {
    if (!minutes) return undefined;
    for (let i = 0; i < minutes.minute.length; i++) {
      const place = Math.floor(((minutes.minute[i] as number) * minute - start) / width);
      if (place >= 0 && place < count) figures[place] = (figures[place] as number) + (minutes.events[i] as number);
    }
  }
  return { start, width, figures, events: figures };
}
