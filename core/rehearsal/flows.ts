import { addVolume, newVolume, type Volume } from '../routing/volume.ts';
import { entryOf } from '../tables/entry-of.ts';
import { type Move, movesOf } from './moves.ts';
import { noRecentDays } from './recent-days.ts';
import { isNowhere, type Transitions } from './transitions.ts';

/** Source, outcome, tier and rule of volume; empty where there is none. */
export type FlowPlace = readonly [source: string, outcome: string, tier: string, rule: string];

/** What comes from a source and meets the same fate by the same rule. */
export interface RehearsedFlow {
  readonly place: FlowPlace;
  readonly live: Volume;
  readonly draft: Volume;
}

/** Volumes by source and fate, live beside draft. */
export function flowsOfMoves(moves: readonly Move[]): readonly RehearsedFlow[] {
  const flows = new Map<string, { place: FlowPlace; live: Volume; draft: Volume }>();
  for (const move of moves)
    for (const of of ['live', 'draft'] as const) {
      if (isNowhere(move[of])) continue;
      const [outcome, tier, rule] = move[of];
      const place: FlowPlace = [move.source, outcome, tier, rule];
      const flow = entryOf(flows, JSON.stringify(place), () => ({ place, live: newVolume(), draft: newVolume() }));
      addVolume(flow[of], move);
    }
  return [...flows.values()];
}

/** Volumes by source and fate over the rehearsed window itself. */
export function flowsOf({ transitions }: { readonly transitions: Transitions }): readonly RehearsedFlow[] {
  return flowsOfMoves(movesOf(transitions, noRecentDays));
}
