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
}

/** Bytes that a surge adds to a day, in total and by tier; negative if it removes events. */
export function addedVolume(moves: readonly Move[]): Pick<RehearsedSurge, 'arrives' | 'tiers'> {
  const tiers = new Map<string, { id: string; live: number; draft: number }>();
  let arrives = 0;
  for (const move of moves) {
    const inWindow = sum(move.slots);
    const added = inWindow > 0 ? (sum(move.extra) * move.bytes) / inWindow : 0;
    if (added === 0) continue;
    if (!isNowhere(move.live)) arrives += added;
    for (const of of ['live', 'draft'] as const) {
      const [, id] = move[of];
      if (isKept(move[of])) entryOf(tiers, id, () => ({ id, live: 0, draft: 0 }))[of] += added;
    }
  }
  return { arrives, tiers: [...tiers.values()] };
}

function sum(values: readonly number[]): number {
  return values.reduce((all, value) => all + value, 0);
}
