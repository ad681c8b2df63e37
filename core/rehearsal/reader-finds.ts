import type { Condition } from '../conditions/condition.ts';
import type { RouteContext, RoutedBatch } from '../routing/route.ts';

/** The number of kept events that each reader finds. Plain data. */
export type ReaderFinds = number[];

/** Adds the kept events of a batch that readers find. An event that represents sampled-out ones counts once. */
export function addFinds(
  finds: ReaderFinds,
  readers: readonly Condition[],
  { arrived, batch, fates, fateOf }: RoutedBatch,
  { now, fleets, currentShape }: RouteContext,
): void {
  if (readers.length === 0) return;
  const tiers = fates.map(({ outcome, tier }) => (outcome === 'kept' ? tier : undefined));
  const keeping = [...new Set(tiers)].filter((tier) => tier !== undefined);
  const context = { now, ...(fleets && { fleets }), ...(currentShape && { currentShape }) };
  readers.forEach((reader, place) => {
    let found = finds[place] ?? 0;
    for (const tier of asksForTier(reader) ? keeping : [undefined]) {
      const mask = reader.test(batch, tier === undefined ? context : { ...context, tier });
      for (let row = 0; row < batch.rows; row++) {
        const keptIn = tiers[fateOf[row] as number];
        if (mask[row] === 1 && keptIn !== undefined && (tier === undefined || tier === keptIn))
          found += arrived.weight[row] as number;
      }
    }
    finds[place] = found;
  });
}

function asksForTier({ text }: Condition): boolean {
  return /\btier\b/i.test(text);
}

/** Adds the finds of the same readers in another part of the tape. */
export function mergeFinds(into: ReaderFinds, other: ReaderFinds): void {
  other.forEach((found, place) => {
    into[place] = (into[place] ?? 0) + found;
  });
}

/** Someone who reads kept events by a condition. */
export interface EventReader {
  /** `question`: a recent search without a name; `name` is its condition. */
  readonly kind: 'search' | 'question';
  readonly name: string;
}

/** The number of events that a reader finds with each plan. */
export interface RehearsedReader extends EventReader {
  readonly live: number;
  readonly draft: number;
}

/** A smaller change, as a part of the events that a reader finds, is not reported. */
const leastFinds = 0.001;

/** The readers that find more or fewer events with the draft, those that lose most first. */
export function changedReaders(
  readers: readonly EventReader[],
  live: ReaderFinds,
  draft: ReaderFinds,
): readonly RehearsedReader[] {
  return readers
    .map((reader, place) => ({ ...reader, live: live[place] ?? 0, draft: draft[place] ?? 0 }))
    .filter((one) => Math.abs(one.draft - one.live) > leastFinds * Math.max(one.live, one.draft))
    .sort((a, b) => a.draft - a.live - (b.draft - b.live));
}
