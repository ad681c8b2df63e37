import type { EventBatch } from '../../events/batch.ts';
import { type AttributeColumns, textColumn } from '../../events/columns.ts';
import { minute } from '../../events/time-units.ts';
import { causesOf, type Explanation } from '../causes.ts';
import { comparedEvents } from '../compared-events.ts';
import { measureOf } from '../measure.ts';
import { type Onset, onsetOf } from '../onset.ts';
import { type ComparedPeriods, comparedPeriods, type Period } from '../periods.ts';
import type { Request } from './traffic.ts';

const now = Date.UTC(2026, 11, 1);
const context = { tier: 'rest', now, currentShape: (id: string): string => id };

/** Requests as a batch of one source. */
export function batchOfRequests(requests: readonly Request[]): EventBatch {
  const rows = requests.length;
  const text = (value: (request: Request) => string) => ({ text: textColumn(requests.map(value)) });
  const number = (value: (request: Request) => number) => ({
    number: { values: Float64Array.from(requests, value), unit: 'none' as const },
  });
  const time = Float64Array.from(requests, ({ time: at }) => at);
  return {
    ...{ rows, source: 'bookings', time, received: time },
    severity: new Uint8Array(rows),
    weight: new Float32Array(rows).fill(1),
    size: new Uint32Array(rows).fill(200),
    parsed: new Uint8Array(rows).fill(1),
    emitter: textColumn(requests.map(() => undefined)),
    body: { bytes: new Uint8Array(0), offsets: new Uint32Array(rows + 1), count: rows },
    attributes: new Map<string, AttributeColumns>([
      ['region', text(({ region }) => region)],
      ['node', text(({ node }) => node)],
      ['path', text(({ path }) => path)],
      ['method', text(({ method }) => method)],
      ['client', text(({ client }) => client)],
      ['tenant', text(({ tenant }) => tenant)],
      ['version', text(({ version }) => version)],
      ['request', text(({ request }) => request)],
      ['status', number(({ status }) => status)],
      ['took', number(({ took }) => took)],
    ]),
  };
}

const width = 20 * minute;

/** When the number of requests changed in a window, with history from `from` on. */
export function onsetOfRequests(requests: readonly Request[], from: number, window: Period): Onset | undefined {
  const sums = new Float64Array(Math.floor((window.to - from) / width));
  for (const { time } of requests) {
    const place = Math.floor((time - from) / width);
    if (place < sums.length) sums[place] = (sums[place] as number) + 1;
  }
  return onsetOf({ start: from, width, sums }, window);
}

/** Explains the change of a measure between `at` and `until`, with history from `from` on. */
export function explained(
  requests: readonly Request[],
  text: string,
  { at, until, from }: { readonly at: number; readonly until: number; readonly from: number },
): Explanation {
  const { since, before } = comparedPeriods(at, until, from) as ComparedPeriods;
  const within = (period: Period): EventBatch =>
    batchOfRequests(requests.filter(({ time }) => time >= period.from && time < period.to));
  const parts = [since, ...before].map((period, i) => ({ batch: within(period), period: i, standsFor: 1, context }));
  return causesOf(comparedEvents(parts, measureOf(text)), measureOf(text), true);
}
