import { causesOf, type Explanation } from '#core/why/causes.ts';
import { comparedEvents } from '#core/why/compared-events.ts';
import type { EventPrices } from '#core/why/event-prices.ts';
import { measureOf } from '#core/why/measure.ts';
import { currentShape } from '../shapes.ts';
import type { SampledPart } from './sampled-part.ts';

/** Finds what explains a change, from sampled events. */
export interface WhyCausesTask {
  readonly kind: 'whyCauses';
  readonly measure: string;
  readonly parts: readonly SampledPart[];
  /** Whether a change was found over time. */
  readonly hasBegun: boolean;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
  /** For costs. */
  readonly prices?: EventPrices | undefined;
}

/** Encodes the sampled events and searches for causes. */
export async function whyCauses({
  measure,
  parts,
  hasBegun,
  fleets,
  now,
  prices,
}: WhyCausesTask): Promise<Explanation> {
  const figure = measureOf(measure);
  const compared = parts.map(({ tier, period, batch, standsFor }) => {
    const ofSource = fleets.get(batch.source);
    const context = { tier, now, currentShape, prices, ...(ofSource && { fleets: ofSource }) };
    return { batch, period, standsFor, context };
  });
  return causesOf(comparedEvents(compared, figure), figure, hasBegun);
}
