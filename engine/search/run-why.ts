import type { WhyAnswer, WhyRow } from '#core/answers/why.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { withPart } from '#core/conditions/parts.ts';
import { equalsText, writeField } from '#core/conditions/write.ts';
import type { VolumePrices } from '#core/costs/volume-prices.ts';
import { day, minute } from '#core/events/time-units.ts';
import type { Cause, Explanation } from '#core/why/causes.ts';
import { type EventPrices, eventPrices } from '#core/why/event-prices.ts';
import type { Measure } from '#core/why/measure.ts';
import { beganWithin, expectedOf, figureSeries, type Onset, onsetIn, onsetOf } from '#core/why/onset.ts';
import { type ComparedPeriods, chosenPeriods, comparedPeriods, type Period } from '#core/why/periods.ts';
import { listSegments } from '#store/events/segments.ts';
import { retryRead } from '#store/retry-read.ts';
import { type ReadSources, readSources } from '../usage/read-sources.ts';
import { type QueryText, queryOf } from '../workers/query.ts';
import type { SampledPart } from '../workers/tasks/why-causes.ts';
import { FigureReader, type Figures } from './figure-reader.ts';
import { judgedSegments } from './judged-segments.ts';
import { reachingBack } from './reaching-back.ts';
import type { SearchSetting } from './run-search.ts';
import { fewerPeriods, type PlannedSample, plannedSamples, type TimedSegment } from './why-sample-plan.ts';

/** A figure to be explained, over the events that match a condition in a window. */
export interface WhyQuestion {
  readonly condition: string;
  readonly measure: Measure;
  /** The measure as written. */
  readonly measureText: string;
  readonly window: Period;
  /** Called once with where matching events may be. */
  readonly onSources: (read: ReadSources) => void;
  /** For costs. */
  readonly prices?: VolumePrices | undefined;
  /** The window to compare with; absent: the normal level. */
  readonly beside?: Period | undefined;
}

/** How much history tells what is normal. */
const lookedBack = 14 * day;
/** Interval widths for a figure over time, each dividing a day, and the most intervals. */
const widths = [1, 2, 5, 10, 20, 30, 60, 120, 360, 1440].map((minutes) => minutes * minute);
const mostIntervals = 1_200;
/** Costs of sources in tiers and intervals that are read for a figure over time, unless that leaves too few intervals. */
const mostCosts = 30_000;
const fewestIntervals = 90;
/** Segments that a thread samples in one task. */
const segmentsPerTask = 4;

/** The answer without what changed nearby. */
export type Why = Omit<WhyAnswer, 'around' | 'currency' | 'tookMs'>;

/**
 * Explains why a figure changed: finds when from the figure over time, then compares sampled events from before and after. Throws when
 * `signal` is aborted.
 */
export async function runWhy(setting: SearchSetting, question: WhyQuestion, signal: AbortSignal): Promise<Why> {
  return await new WhyRun(setting, question, signal).answer();
}

class WhyRun {
  private readonly now = Date.now();
  private tiersLeftOut: readonly string[] = [];
  private prices: EventPrices | undefined;
  private reader: FigureReader;

  constructor(
    private readonly setting: SearchSetting,
    private readonly question: WhyQuestion,
    private readonly signal: AbortSignal,
  ) {
    this.reader = new FigureReader(setting, question.measure, [], signal);
  }

  async answer(): Promise<Why> {
    const { question } = this;
    const asked = { from: question.window.from, to: Math.min(question.window.to, this.now) };
    const earliest = Math.min(asked.from - lookedBack, question.beside?.from ?? asked.from);
    const { segments, stored } = await this.segments({ from: earliest, to: asked.to }, asked.from);
    const window = { from: Math.max(asked.from, Math.min(stored, asked.to)), to: asked.to };
    const series = await this.reader.series(
      question.condition,
      { from: Math.max(earliest, stored), to: window.to },
      widthFor(Math.max(earliest, stored), window.to, this.mostIntervals()),
    );
    const onset = this.onset(series, window);
    const known = firstKnown(series, onset);
    const all = this.times(window, onset, known);
    if (!all) return this.nothing(window, series);
    const times = fewerPeriods(segments, all);
    const { explanation, looked } = await this.explain(
      segments,
      times,
      onset !== undefined || question.beside !== undefined,
    );
    const rows = explanation.causes.map((cause) => this.row(cause));
    const isChanged = explanation.verdict === 'values' || explanation.verdict === 'spread';
    const shift = question.beside || !isChanged ? undefined : onset;
    const began = shift && (await this.began(shift, rows[0]?.condition ?? question.condition, explanation));
    const expected =
      question.measure.isAdditive &&
      began !== undefined &&
      expectedOf({ ...series, sums: zeros(series.figures) }, began);
    return {
      verdict: explanation.verdict,
      ...(began !== undefined && { began }),
      ...(shift?.ended !== undefined && { ended: shift.ended }),
      form: question.beside ? 'chosen' : (shift?.form ?? 'none'),
      unit: this.reader.unit,
      times,
      before: figureOrNull(explanation.before),
      since: figureOrNull(explanation.since),
      rows,
      rest: explanation.rest,
      ...(explanation.needed && { needed: explanation.needed }),
      series: { ...shown(series), ...(expected && { expected: [...expected] }) },
      tiersLeftOut: this.tiersLeftOut,
      lookedAt: { fields: explanation.fields, values: explanation.values, pairs: explanation.combinations, ...looked },
    };
  }

  /** Costs are read by source and tier, so in fewer intervals if there are many. */
  private mostIntervals(): number {
    const pairs = this.prices?.size ?? 0;
    return pairs === 0
      ? mostIntervals
      : Math.max(fewestIntervals, Math.min(mostIntervals, Math.floor(mostCosts / pairs)));
  }

  private onset(series: Figures, window: Period): Onset | undefined {
    if (this.question.beside || series.figures.length < 3) return undefined;
    if (this.question.measure.isAdditive) return onsetOf({ ...series, sums: zeros(series.figures) }, window);
    return onsetIn(figureSeries(series.figures, series.events), series, window);
  }

  private times(window: Period, onset: Onset | undefined, known: number): ComparedPeriods | undefined {
    const { beside } = this.question;
    if (beside) return chosenPeriods(window, beside);
    const began = onset?.began ?? window.from;
    return comparedPeriods(began, Math.min(onset?.ended ?? window.to, window.to), known);
  }

  /** The answer if there is too little to compare. */
  private nothing(window: Period, series: Figures): Why {
    return {
      ...{
        verdict: 'nothing',
        form: 'none',
        unit: this.reader.unit,
        times: { since: window, before: [] },
        before: null,
        since: null,
        rows: [],
        rest: 1,
      },
      series: shown(series),
      tiersLeftOut: this.tiersLeftOut,
      lookedAt: { fields: 0, values: 0, pairs: 0, events: 0, of: 0 },
    };
  }

  private query({ from, to }: Period): QueryText {
    const { condition } = this.question;
    return { condition, from, to, limit: 0, buckets: 0, fields: false, summary: '' };
  }

  /** The segments that may hold matching events, and the time from which all their tiers hold events (milliseconds). */
  private async segments(
    period: Period,
    until: number,
  ): Promise<{ readonly segments: readonly TimedSegment[]; readonly stored: number }> {
    const { database, headers, fleets, currentShape } = this.setting;
    const listed = await retryRead(() => listSegments(database, period, undefined));
    const query = queryOf(this.query(period));
    const judged = await retryRead(() =>
      judgedSegments(listed, query, { headers, now: this.now, fleets, currentShape }),
    );
    const times = new Map(listed.map(({ id, from, to }) => [id, { from, to }]));
    const found = judged.segments.map((segment) => ({ ...segment, ...(times.get(segment.id) as Period) }));
    const kept = reachingBack(found, { from: until, to: period.to });
    const { measure, prices, onSources } = this.question;
    // Earlier days only tell what is normal.
    onSources(readSources(found, this.question.beside?.from ?? until));
    this.prices = prices && eventPrices(found, prices);
    this.reader = new FigureReader(this.setting, measure, kept.tiers, this.signal, this.prices);
    this.tiersLeftOut = kept.leftOut;
    const isKept = new Set(kept.tiers);
    return { segments: found.filter(({ tier }) => isKept.has(tier)), stored: Math.min(kept.since, period.to) };
  }

  /** Compares sampled events, and returns how many there were. */
  private async explain(
    segments: readonly TimedSegment[],
    times: ComparedPeriods,
    hasBegun: boolean,
  ): Promise<{ readonly explanation: Explanation; readonly looked: { readonly events: number; readonly of: number } }> {
    const planned = plannedSamples(segments, times);
    const parts = await this.samples(planned);
    this.signal.throwIfAborted();
    const { pools, fleets } = this.setting;
    const explanation = await pools.read(0, {
      ...{
        kind: 'whyCauses',
        measure: this.question.measureText,
        parts,
        hasBegun,
        fleets,
        now: this.now,
        prices: this.prices,
      },
    });
    const events = parts.reduce((sum, { batch }) => sum + batch.rows, 0);
    const of = parts.reduce((sum, { batch, standsFor }) => sum + batch.rows * standsFor, 0);
    return { explanation, looked: { events, of: Math.round(of) } };
  }

  private async samples(planned: readonly PlannedSample[]): Promise<readonly SampledPart[]> {
    const { pools, fleets } = this.setting;
    const standsFor = new Map(planned.map((one) => [keyOf(one.segment), one.standsFor]));
    const parts: SampledPart[] = [];
    const query = this.query({ from: 0, to: Number.MAX_SAFE_INTEGER });
    const { shareOf, fields: measured } = this.question.measure;
    const bodies = shareOf?.body ?? false;
    const skipped = new Set<string>();
    const lane = async (index: number, queue: PlannedSample[]): Promise<void> => {
      for (let some = queue.splice(0, segmentsPerTask); some.length > 0; some = queue.splice(0, segmentsPerTask)) {
        this.signal.throwIfAborted();
        const chosen = some.map(({ segment }) => segment);
        const taken = await pools.read(index, {
          ...{ kind: 'whySample', query, segments: chosen, skipped, measured, bodies, fleets, now: this.now },
        });
        for (const { uniqueFields, ...one } of taken) {
          for (const name of uniqueFields) skipped.add(name);
          if (one.batch.rows === 0) continue;
          const ofFitting = one.fitting / one.batch.rows;
          parts.push({ ...one, standsFor: ofFitting * (standsFor.get(keyOf(one.segment)) as number) });
        }
      }
    };
    const queues = Array.from({ length: pools.readLanes }, (_, index) =>
      planned.filter(({ segment }) => segment.id % pools.readLanes === index),
    );
    // While one task waits for the store, the other computes.
    await Promise.all(queues.flatMap((queue, index) => [lane(index, queue), lane(index, queue)]));
    return parts;
  }

  private row({ where, before, since, ...rest }: Cause): WhyRow {
    const condition = where.reduce(
      (text, { field, value }) => withPart(text, equalsText(field, value)),
      this.question.condition,
    );
    const ratio = before !== null && since !== null && before !== 0 ? since / before : null;
    return { where, condition, before, since, ratio, ...rest };
  }

  /** The minute in which the change began, from the events of the first cause, where it is clearest. */
  private async began(onset: Onset, condition: string, { before }: Explanation): Promise<number> {
    const isDrift = onset.form === 'ramp';
    const from = onset.began - (isDrift ? 180 : 60) * minute;
    const to = Math.min(onset.reached + (isDrift ? 0 : 60) * minute, this.now);
    const { measure } = this.question;
    const above = measure.rankOf === undefined ? undefined : aboveFigure(measure.rankOf, before);
    const { start, figures, events } = above
      ? await this.reader.shares(condition, above, { from, to }, minute)
      : await this.reader.series(condition, { from, to }, minute);
    if (figures.length < 2) return onset.began;
    const series = measure.isAdditive
      ? { values: zeros(figures), weights: new Float64Array(figures.length).fill(1) }
      : { values: zeros(figures), weights: events };
    return start + beganWithin(series, onset.form) * minute;
  }
}

function keyOf({ id, period }: { readonly id: number; readonly period: number }): string {
  return `${id}|${period}`;
}

/** A condition for events whose field is above a figure; undefined where no condition can say that. */
function aboveFigure(field: string, figure: number): string | undefined {
  const text = `${writeField(field)} > ${figure}`;
  return compileCondition(text).ok ? text : undefined;
}

function widthFor(from: number, to: number, most: number): number {
  return widths.find((width) => (to - from) / width <= most) ?? day;
}

/** The first time for which the figure is known (milliseconds): the first interval with events, unless the change is that they began. */
function firstKnown({ start, width, events }: Figures, onset: Onset | undefined): number {
  const first = events.findIndex((count) => count > 0);
  const at = start + Math.max(0, first) * width;
  return onset && onset.began <= at + width ? start : at;
}

/** Figures with 0 instead of NaN. */
function zeros(figures: Float64Array): Float64Array {
  return figures.map((figure) => (Number.isNaN(figure) ? 0 : figure));
}

function shown({ start, width, figures }: Figures): Why['series'] {
  return { start, width, figures: Array.from(figures, figureOrNull) };
}

function figureOrNull(figure: number): number | null {
  return Number.isFinite(figure) ? figure : null;
}
