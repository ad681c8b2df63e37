import { conditionOf } from '#core/conditions/condition.ts';
import { hour, minute } from '#core/events/time-units.ts';
import { minuteSpan } from '#core/routing/ledger.ts';
import { sumsWith } from '#core/views/shapes.ts';
import { causesOf, type Explanation } from '#core/why/causes.ts';
import { comparedEvents } from '#core/why/compared-events.ts';
import { type LedgerPeriod, type LedgerVolume, ledgerParts } from '#core/why/ledger-parts.ts';
import { type Measure, measureOf } from '#core/why/measure.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import { sumShapes } from '#store/events/shapes.ts';
import { retryRead } from '#store/retry-read.ts';
import { currentShape } from '../shapes.ts';
import { workerDatabase } from '../worker-database.ts';

/** A figure that the ledger counts, of a condition about what it counts. */
interface OfLedger {
  readonly condition: string;
  readonly measure: string;
  /** The sources that the condition may be about; absent: any. */
  readonly sources?: readonly string[] | undefined;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

/** Reads a figure over time from the ledger. */
export interface LedgerSeriesTask extends OfLedger {
  readonly kind: 'ledgerSeries';
  /** Whole intervals (milliseconds). */
  readonly period: Period;
  /** An hour or a minute; minutes only for the last day. */
  readonly every: number;
}

/** By interval, the amount and the events behind it: for a share, the first are the events that match it. */
export interface LedgerSeries {
  readonly amounts: Float64Array;
  readonly events: Float64Array;
}

/** Finds which sources, tiers, shapes and severities explain a change, from the ledger alone. */
export interface WhyLedgerTask extends OfLedger {
  readonly kind: 'whyLedger';
  readonly times: ComparedPeriods;
  /** Whether a change was found over time. */
  readonly hasBegun: boolean;
}

/** Sums of the ledger by interval. */
export async function ledgerSeries(task: LedgerSeriesTask): Promise<LedgerSeries> {
  const { period, every } = task;
  const measure = measureOf(task.measure);
  const count = Math.round((period.to - period.from) / every);
  const [amounts, events] = [new Float64Array(count), new Float64Array(count)];
  const volumes = await volumesOf(task, measure, period, every);
  const counted = measure.shareOf ? new Set(sumsWith(volumes, measure.shareOf, { ...task, currentShape })) : undefined;
  for (const volume of volumes) {
    const at = Math.round((volume.start - period.from) / every);
    events[at] = (events[at] as number) + volume.events;
    const isCounted = !counted || counted.has(volume);
    if (isCounted) amounts[at] = (amounts[at] as number) + (measure.volume === 'bytes' ? volume.bytes : volume.events);
  }
  return { amounts, events };
}

/** Compares the ledger of the periods. */
export async function whyLedger(task: WhyLedgerTask): Promise<Explanation> {
  const { times, now, hasBegun } = task;
  const measure = measureOf(task.measure);
  const periods: LedgerPeriod[] = [];
  for (const period of [times.since, ...times.before]) periods.push(await periodOf(task, measure, period));
  const ledger = ledgerParts(periods, times, { measure, now });
  return causesOf(comparedEvents(ledger.parts, ledger.measure), ledger.measure, hasBegun);
}

async function periodOf(task: WhyLedgerTask, measure: Measure, period: Period): Promise<LedgerPeriod> {
  const stretch = period.from >= task.now - minuteSpan + hour ? minute : hour;
  const first = Math.floor(period.from / stretch);
  const count = Math.ceil(period.to / stretch) - first;
  const window = { from: first * stretch, to: (first + count) * stretch };
  // The store adds up what lies in the same tenth of the period.
  const every = stretch === minute ? largestDivisor(count, count / tenths) * minute : hour;
  return { every, volumes: await volumesOf(task, measure, window, every) };
}

/** Parts of a period that the comparison tells apart. */
const tenths = 10;

/** The largest divisor of a number that is not larger than `most`; at least 1. */
function largestDivisor(of: number, most: number): number {
  for (let divisor = Math.floor(most); divisor > 1; divisor--) if (of % divisor === 0) return divisor;
  return 1;
}

async function volumesOf(
  { condition, sources, ...task }: OfLedger,
  { isReceived }: Measure,
  { from, to }: Period,
  every: number,
): Promise<readonly LedgerVolume[]> {
  const sums = await retryRead(() => sumShapes(workerDatabase(), { from, to, sources }, every));
  const shaped = sums.map((sum) => ({ ...sum, shape: currentShape(sum.shape) }));
  const found = sumsWith(shaped, conditionOf(condition), { ...task, currentShape });
  return isReceived ? found : found.filter(({ outcome }) => outcome === 'kept' || outcome === 'rejected');
}
