import type { WhyAnswer } from '#core/answers/why.ts';
import { withPart } from '#core/conditions/parts.ts';
import { minute } from '#core/events/time-units.ts';
import type { Measure } from '#core/why/measure.ts';
import type { Period } from '#core/why/periods.ts';
import type { QueryText } from '../workers/query.ts';
import { runSearch, type SearchSetting } from './run-search.ts';

/** A figure by stretches, and the events behind each. */
export interface Figures {
  readonly start: number;
  readonly width: number;
  readonly figures: Float64Array;
  readonly events: Float64Array;
}

/** Reads a figure over time, by searches of some tiers. */
export class FigureReader {
  /** In what it is measured, once it was read. */
  unit: WhyAnswer['unit'] = 'none';

  constructor(
    private readonly setting: SearchSetting,
    private readonly measure: Measure,
    private readonly tiers: readonly string[],
    private readonly signal: AbortSignal,
  ) {}

  /** The figure of what a condition picks by stretches; the last one is whole. */
  async series(condition: string, period: Period, width: number): Promise<Figures> {
    const { measure } = this;
    const start = Math.ceil(period.from / width) * width;
    const count = Math.max(0, Math.floor((period.to - start) / width));
    const figures = new Float64Array(count).fill(Number.NaN);
    const events = new Float64Array(count);
    if (count === 0) return { start, width, figures, events };
    const read = async (
      text: string,
      figure: string,
      take: (place: number, figure: number, events: number) => void,
    ): Promise<void> => {
      const summary = `${figure} as figure, count() as events every ${width / minute}m`;
      const query = this.query(text, { from: start, to: start + count * width }, summary);
      const answer = await runSearch(this.setting, query, {
        tiers: this.tiers,
        signal: this.signal,
        progress: () => {},
      });
      this.unit = measure.shareOf ? 'share' : (answer.summary?.columns[1]?.unit ?? 'none');
      for (const [time, value, counted] of answer.summary?.rows ?? [])
        take(
          Math.round((Number(time) - start) / width),
          typeof value === 'number' ? value : Number.NaN,
          Number(counted),
        );
    };
    await read(condition, measure.shareOf ? 'count()' : measure.summary.text, (place, figure, counted) => {
      figures[place] = measure.shareOf ? 0 : figure;
      events[place] = counted;
    });
    if (measure.shareOf)
      await read(withPart(condition, `(${measure.shareOf.text})`), 'count()', (place, figure) => {
        figures[place] = figure / (events[place] as number);
      });
    return { start, width, figures, events };
  }

  /** By the minute the share of what a condition picks that fits another one too. */
  async shares(condition: string, part: string, period: Period): Promise<Figures> {
    const [all, some] = await Promise.all([
      this.counts(condition, period),
      this.counts(withPart(condition, part), period),
    ]);
    return { ...all, figures: some.events.map((count, i) => count / (all.events[i] as number)) };
  }

  private async counts(condition: string, { from, to }: Period): Promise<Figures> {
    const start = Math.ceil(from / minute) * minute;
    const count = Math.max(0, Math.floor((to - start) / minute));
    const events = new Float64Array(count);
    const query = this.query(condition, { from: start, to: start + count * minute }, 'count() every 1m');
    const answer = await runSearch(this.setting, query, { tiers: this.tiers, signal: this.signal, progress: () => {} });
    for (const [time, counted] of answer.summary?.rows ?? [])
      events[Math.round((Number(time) - start) / minute)] = Number(counted);
    return { start, width: minute, figures: events, events };
  }

  private query(condition: string, { from, to }: Period, summary: string): QueryText {
    return { condition, from, to, limit: 0, buckets: 0, fields: false, summary };
  }
}
