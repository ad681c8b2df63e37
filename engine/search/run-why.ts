import { setTimeout as pause } from 'node:timers/promises';
import { compileCondition } from '#core/conditions/condition.ts';
import { writeField } from '#core/conditions/write.ts';
import { day, minute } from '#core/events/time-units.ts';
import type { Explanation } from '#core/why/causes.ts';
import { type EventPrices, eventPrices } from '#core/why/event-prices.ts';
import { beganWithin, type Onset } from '#core/why/onset.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import { listSegments } from '#store/events/segments.ts';
import { retryRead } from '#store/retry-read.ts';
import { readSources } from '../usage/read-sources.ts';
import { type QueryText, queryOf } from '../workers/query.ts';
import type { SampledPart } from '../workers/tasks/sampled-part.ts';
import type { CountedRef } from '../workers/tasks/why-counts.ts';
import { countsByMinute, FigureReader } from './figure-reader.ts';
import { judgedSegments } from './judged-segments.ts';
import { isCountedByLedger } from './ledger-figures.ts';
import { reachingBack } from './reaching-back.ts';
import type { SearchSetting } from './run-search.ts';
import { conditionOfCause, nothingToCompare, type Why, whyAnswer, withoutBands } from './why-answer.ts';
import { segmentsToCount, withExactCounts } from './why-counts.ts';
import { type LedgerWhy, whyFromLedger } from './why-ledger.ts';
import { changeIn, lookedBack, periodsOf, type WhyQuestion, zeros } from './why-question.ts';
import { fewerPeriods, type PlannedSample, plannedSamples, type TimedSegment } from './why-sample-plan.ts';
import { whyOnTape } from './why-tape.ts';

/** Interval widths for a figure over time, each dividing a day, and the most intervals. */
const widths = [1, 2, 5, 10, 20, 30, 60, 120, 360, 1440].map((minutes) => minutes * minute);
const mostIntervals = 1_200;
/** Costs of sources in tiers and intervals that are read for a figure over time, unless that leaves too few intervals. */
const mostCosts = 30_000;
const fewestIntervals = 90;
/** Segments that a thread samples in one task. */
const segmentsPerTask = 4;

/** All times (milliseconds). */
const everything: Period = { from: 0, to: Number.MAX_SAFE_INTEGER };

/** How a question is answered. */
export interface WhyAsking {
  readonly signal: AbortSignal;
  /** Called with earlier answers: from the ledger, then from a sample. Absent: only the last one is wanted, and soon. */
  readonly progress?: ((why: Why) => void) | undefined;
}

/** How long (milliseconds) the first answer has the threads that read for itself. */
const patience = 500;

/** Most events of which the figures of causes are counted: if only the last answer is wanted, and if earlier ones are given. */
const mostCounted = { soon: 400_000, later: 30_000_000 };

/**
 * Explains why a figure changed: finds when from the figure over time, then compares events from before and after, in the order of their
 * cost: the ledger, a sample, and all events of the causes that are shown. Throws when `signal` is aborted.
 */
export async function runWhy(setting: SearchSetting, question: WhyQuestion, asking: WhyAsking): Promise<Why> {
  const { measure, condition, beside } = question;
  const now = Date.now();
  const window = { from: question.window.from, to: Math.min(question.window.to, now) };
  const earliest = Math.min(window.from - lookedBack, beside?.from ?? window.from);
  const ledger = (): Promise<LedgerWhy> => whyFromLedger(setting, question, { from: earliest, window });
  if (measure.isReceived) {
    const { why, found } = await ledger();
    asking.progress?.(why);
    return (found && (await whyOnTape(setting, question, found, asking.signal))) ?? why;
  }
  if (!asking.progress || !isCountedByLedger(condition, measure))
    return await new WhyRun(setting, question, asking).answer();
  let isAnswered = false;
  const run = new WhyRun(setting, question, {
    ...asking,
    progress: (why) => {
      isAnswered = true;
      asking.progress?.(why);
    },
  });
  // An answer that comes later than a better one is not given, and one that fails is not missed.
  const first = ledger().then(
    ({ why }) => void (!isAnswered && asking.progress?.(why)),
    () => {},
  );
  return await run.answer(first).finally(() => (isAnswered = true));
}

class WhyRun {
  private readonly now = Date.now();
  private tiersLeftOut: readonly string[] = [];
  private prices: EventPrices | undefined;
  private reader: FigureReader;

  constructor(
    private readonly setting: SearchSetting,
    private readonly question: WhyQuestion,
    private readonly asking: WhyAsking,
  ) {
    this.reader = new FigureReader(setting, question.measure, [], asking.signal);
  }

  /** Answers once all is compared; no event is read before `first` is over, for a while. */
  async answer(first?: Promise<void>): Promise<Why> {
    const { question } = this;
    const asked = { from: question.window.from, to: Math.min(question.window.to, this.now) };
    const earliest = Math.min(asked.from - lookedBack, question.beside?.from ?? asked.from);
    const { segments, stored } = await this.segments({ from: earliest, to: asked.to }, asked.from);
    const window = { from: Math.max(asked.from, Math.min(stored, asked.to)), to: asked.to };
    const known = { from: Math.max(earliest, stored), to: window.to };
    const width = widthFor(known.from, known.to, this.mostIntervals());
    const counts = question.measure.volume === 'events' ? countsByMinute(segments, known, width) : undefined;
    const series = counts ?? (await this.reader.series(question.condition, known, width));
    const unit = counts ? 'count' : this.reader.unit;
    const { tiersLeftOut } = this;
    const onset = changeIn(question, series, window);
    const all = periodsOf(question, window, onset, series);
    if (!all) return nothingToCompare(window, { series, unit, tiersLeftOut, basis: 'all' });
    const times = fewerPeriods(segments, all);
    const hasBegun = onset !== undefined || question.beside !== undefined;
    await Promise.race([first, pause(patience, undefined, { ref: false })]);
    const { explanation, events, of } = await this.explain(segments, times, hasBegun);
    const isChanged = explanation.verdict === 'values' || explanation.verdict === 'spread';
    const shift = question.beside || !isChanged || !onset ? undefined : await this.precisely(onset, explanation);
    const basis = of <= events ? ('all' as const) : ('sample' as const);
    const found = { explanation, times, shift, series, unit, tiersLeftOut, basis, events, of };
    if (basis === 'all') return whyAnswer(question, { ...found, explanation: withoutBands(explanation) });
    const toCount = segmentsToCount(segments, times);
    const { progress } = this.asking;
    if (!isChanged || eventsIn(toCount) > (progress ? mostCounted.later : mostCounted.soon))
      return whyAnswer(question, found);
    progress?.(whyAnswer(question, found));
    const counted = await this.counted(explanation, times, toCount);
    return whyAnswer(question, counted ? { ...found, explanation: counted, basis: 'counted' } : found);
  }

  private async counted(
    explanation: Explanation,
    times: ComparedPeriods,
    segments: readonly CountedRef[],
  ): Promise<Explanation | undefined> {
    const { setting, question, prices, now } = this;
    const query = this.query(everything);
    return await withExactCounts(
      setting,
      question,
      { explanation, times, segments, prices, query, now },
      this.asking.signal,
    );
  }

  /** Costs are read by source and tier, so in fewer intervals if there are many. */
  private mostIntervals(): number {
    const pairs = this.prices?.size ?? 0;
    return pairs === 0
      ? mostIntervals
      : Math.max(fewestIntervals, Math.min(mostIntervals, Math.floor(mostCosts / pairs)));
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
    // Whatever the period: a segment that reaches beyond it says its minutes too.
    const query = queryOf(this.query(everything));
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
    this.reader = new FigureReader(this.setting, measure, kept.tiers, this.asking.signal, this.prices);
    this.tiersLeftOut = kept.leftOut;
    const isKept = new Set(kept.tiers);
    return { segments: found.filter(({ tier }) => isKept.has(tier)), stored: Math.min(kept.since, period.to) };
  }

  /** Compares sampled events, and returns how many there were. */
  private async explain(
    segments: readonly TimedSegment[],
    times: ComparedPeriods,
    hasBegun: boolean,
  ): Promise<{ readonly explanation: Explanation; readonly events: number; readonly of: number }> {
    const planned = plannedSamples(segments, times);
    const parts = await this.samples(planned);
    this.asking.signal.throwIfAborted();
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
    return { explanation, events, of: Math.round(of) };
  }

  private async samples(planned: readonly PlannedSample[]): Promise<readonly SampledPart[]> {
    const { pools, fleets } = this.setting;
    const standsFor = new Map(planned.map((one) => [keyOf(one.segment), one.standsFor]));
    const parts: SampledPart[] = [];
    const query = this.query(everything);
    const { shareOf, fields: measured } = this.question.measure;
    const bodies = shareOf?.body ?? false;
    const skipped = new Set<string>();
    const lane = async (index: number, queue: PlannedSample[]): Promise<void> => {
      for (let some = queue.splice(0, segmentsPerTask); some.length > 0; some = queue.splice(0, segmentsPerTask)) {
        this.asking.signal.throwIfAborted();
        const chosen = some.map(({ segment }) => segment);
        const taken = await pools.read(index, {
          ...{ kind: 'whySample', query, segments: chosen, skipped, measured, bodies, fleets, now: this.now },
        });
        for (const { uniqueFields, segment, batch, fitting } of taken) {
          for (const name of uniqueFields) skipped.add(name);
          if (batch.rows === 0) continue;
          const { tier, period } = segment;
          const ofFitting = fitting / batch.rows;
          parts.push({ tier, period, batch, standsFor: ofFitting * (standsFor.get(keyOf(segment)) as number) });
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

  /** A change with the minute in which it began. */
  private async precisely(onset: Onset, explanation: Explanation): Promise<Onset> {
    const [first] = explanation.causes;
    const { condition } = this.question;
    return {
      ...onset,
      began: await this.began(onset, first ? conditionOfCause(first, condition) : condition, explanation),
    };
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

function eventsIn(segments: readonly CountedRef[]): number {
  return segments.reduce((sum, { events }) => sum + events, 0);
}
