import { causesOf, type Explanation } from '#core/why/causes.ts';
import { comparedEvents } from '#core/why/compared-events.ts';
import { type Measure, parseMeasure } from '#core/why/measure.ts';
import { currentShape } from '../shapes.ts';
import type { Sampled } from './why-sample.ts';

/** Events that were taken of a segment, and how many of its time each stands for. */
export type SampledPart = Omit<Sampled, 'names'> & { readonly standsFor: number };

/** Finds what accounts for the change of a figure. */
export interface WhyCausesTask {
  readonly kind: 'whyCauses';
  readonly measure: string;
  readonly parts: readonly SampledPart[];
  /** Whether it is known that the figure changed between both times. */
  readonly hasBegun: boolean;
  /** The fleets that each source belongs to. */
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly now: number;
}

export async function whyCauses({ measure, parts, hasBegun, fleets, now }: WhyCausesTask): Promise<Explanation> {
  const figure = measureOf(measure);
  const compared = parts.map(({ segment, batch, standsFor }) => {
    const ofSource = fleets.get(batch.source);
    const context = { tier: segment.tier, now, currentShape, ...(ofSource && { fleets: ofSource }) };
    return { batch, period: segment.period, standsFor, context };
  });
  return causesOf(comparedEvents(compared, figure), figure, hasBegun);
}

/** The measure that a text says; the text was checked when it came in. */
function measureOf(text: string): Measure {
  const parsed = parseMeasure(text);
  if (!parsed.ok) throw new Error(parsed.problem.message);
  return parsed.measure;
}
