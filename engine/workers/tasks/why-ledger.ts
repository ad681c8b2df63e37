import { conditionOf, visit } from '#core/conditions/condition.ts';
import { hour, minute } from '#core/events/time-units.ts';
import { minuteSpan } from '#core/routing/ledger.ts';
import { sumsWith } from '#core/views/shapes.ts';
import { causesOf, type Explanation } from '#core/why/causes.ts';
import { comparedEvents } from '#core/why/compared-events.ts';
import { type LedgerVolume, ledgerParts } from '#core/why/ledger-parts.ts';
import { type Measure, measureOf } from '#core/why/measure.ts';
import type { ComparedPeriods, Period } from '#core/why/periods.ts';
import { sumShapes } from '#store/events/shapes.ts';
import { retryRead } from '#store/retry-read.ts';
import { sumLedger } from '#store/volume/ledger.ts';
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
  const volumes = await seriesOf(task, measure);
  const counted = measure.shareOf ? new Set(sumsWith(volumes, measure.shareOf, { ...task, currentShape })) : undefined;
  for (const volume of volumes) {
    const at = Math.round((volume.start - period.from) / every);
    events[at] = (events[at] as number) + volume.events;
    const isCounted = !counted || counted.has(volume);
    if (isCounted) amounts[at] = (amounts[at] as number) + (measure.volume === 'bytes' ? volume.bytes : volume.events);
  }
  return { amounts, events };
}

/** Volume by interval; by shape and severity only if that matters, as there are many of them. */
async function seriesOf(task: LedgerSeriesTask, measure: Measure): Promise<readonly LedgerVolume[]> {
  const { condition, period, every } = task;
  const fields = new Set<string>();
  visit(conditionOf(condition).node, (node) => {
    if ('field' in node) fields.add(node.field.toLowerCase());
  });
  if (measure.shareOf || fields.has('shape') || fields.has('severity'))
    return await volumesOf(task, measure, period, every);
  const keys = fields.size === 0 ? (['outcome'] as const) : (['source', 'outcome', 'tier'] as const);
  const { from, to } = period;
  const source = task.sources?.length === 1 ? task.sources[0] : undefined;
  const window = { from, to, ...(source !== undefined && { source }) };
  const sums = await retryRead(() => sumLedger(workerDatabase(), window, keys, every));
  const volumes = sums.map(({ source: name = '', tier = '', outcome = '', start, events, bytes }) => ({
    ...{ source: name, tier, outcome, start, events, bytes, shape: '', severity: 0 },
  }));
  return kept(sumsWith(volumes, conditionOf(condition), { ...task, currentShape }), measure.isReceived);
}

/** Compares the ledger of the periods. */
export async function whyLedger(task: WhyLedgerTask): Promise<Explanation> {
  const { times, now, hasBegun } = task;
  const measure = measureOf(task.measure);
  const periods = await Promise.all([times.since, ...times.before].map((period) => volumesIn(task, measure, period)));
  const ledger = ledgerParts(periods, times, { measure, now });
  return causesOf(comparedEvents(ledger.parts, ledger.measure), ledger.measure, hasBegun);
}

/** The volume of a period. A minute or an hour of the ledger that reaches beyond it counts in part. */
async function volumesIn(
  task: WhyLedgerTask,
  measure: Measure,
  { from, to }: Period,
): Promise<readonly LedgerVolume[]> {
  const step = from >= task.now - minuteSpan + hour ? minute : hour;
  const whole = { from: Math.ceil(from / step) * step, to: Math.floor(to / step) * step };
  const parts = [
    { ...whole, part: 1 },
    { from: whole.from - step, to: whole.from, part: (whole.from - from) / step },
    { from: whole.to, to: whole.to + step, part: (to - whole.to) / step },
  ].filter(({ from: begin, to: end, part }) => end > begin && part > 0);
  const volumes = parts.map(async ({ part, ...stretch }) =>
    (await volumesOf(task, measure, stretch, 0)).map((volume) => ({
      ...volume,
      events: volume.events * part,
      bytes: volume.bytes * part,
    })),
  );
  return (await Promise.all(volumes)).flat();
}

async function volumesOf(
  { condition, sources, ...task }: OfLedger,
  { isReceived }: Measure,
  { from, to }: Period,
  every: number,
): Promise<readonly LedgerVolume[]> {
  const sums = await retryRead(() => sumShapes(workerDatabase(), { from, to, sources }, every));
  const shaped = sums.map((sum) => ({ ...sum, shape: currentShape(sum.shape) }));
  return kept(sumsWith(shaped, conditionOf(condition), { ...task, currentShape }), isReceived);
}

/** What tiers have of some volume, or all of it. */
function kept<Volume extends { readonly outcome: string }>(
  volumes: readonly Volume[],
  isReceived: true | undefined,
): readonly Volume[] {
  return isReceived ? volumes : volumes.filter(({ outcome }) => outcome === 'kept' || outcome === 'rejected');
}
