import { holdingTier } from '../routing/holding-tier.ts';
import { entryOf } from '../tables/entry-of.ts';
import type { CapMeetings } from './cap-meetings.ts';
import type { Move } from './moves.ts';
import type { SurgeChoice } from './surge.ts';
import { isKept, isNowhere } from './transitions.ts';

/** The effect of a surge on a day: bytes that arrive, bytes that each plan keeps by tier, and caps. */
export interface RehearsedSurge extends SurgeChoice {
  readonly arrives: number;
  readonly tiers: readonly { readonly id: string; readonly live: number; readonly draft: number }[];
  readonly caps: CapMeetings;
  readonly store: SurgeStore;
}

/** Bytes that a surge adds to the store, as they are compressed there. */
export interface SurgeStore {
  readonly live: number;
  readonly draft: number;
  /** Bytes that were free on the disk of the store; null if it is on another machine. */
  readonly free: number | null;
}

/** The store as a surge meets it. */
export interface StoreRoom {
  /** Stored bytes for each byte that arrives from a source and is in a tier. */
  readonly shareStored: (source: string, tier: string) => number;
  readonly free: number | null;
}

/** The part that a surge adds to a move: 9 for ten times as many, −1 for none. */
export function addedPart({ slots, extra }: Pick<Move, 'slots' | 'extra'>): number {
  const inWindow = sum(slots);
  return inWindow > 0 ? sum(extra) / inWindow : 0;
}

/** Bytes that a surge adds to a day, in total, by tier and in the store; negative if it removes events. */
export function addedVolume(
  moves: readonly Move[],
  { shareStored, free }: StoreRoom,
): Pick<RehearsedSurge, 'arrives' | 'tiers' | 'store'> {
  const tiers = new Map<string, { id: string; live: number; draft: number }>();
  const store = { live: 0, draft: 0, free };
  let arrives = 0;
  for (const move of moves) {
    const added = addedPart(move) * move.bytes;
    if (added === 0) continue;
    if (!isNowhere(move.live)) arrives += added;
    for (const of of ['live', 'draft'] as const) {
      if (isNowhere(move[of])) continue;
      const [outcome, id] = move[of];
      if (isKept(move[of])) entryOf(tiers, id, () => ({ id, live: 0, draft: 0 }))[of] += added;
      store[of] += added * shareStored(move.source, holdingTier({ outcome, tier: id }));
    }
  }
  return { arrives, tiers: [...tiers.values()], store };
}

function sum(values: readonly number[]): number {
  return values.reduce((all, value) => all + value, 0);
}
