import type { Rehearsal } from './rehearse.ts';

/** First figures of a rehearsal that still runs: what both plans would come to if the rest were like what was read. */
export interface RehearsalSoFar {
  /** Parts of the tape that were read, and all of them. */
  readonly done: number;
  readonly all: number;
  /** Shares of events, 0 to 1. */
  readonly parsed: { readonly live: number; readonly draft: number };
  /** Bytes a day. */
  readonly kept: { readonly live: number; readonly draft: number };
}

/**
 * The figures of a rehearsal of which of each source only a part was read (`readOf`: its share, 0 to 1): each source stands for
 * what is still to come of it. Sources of which nothing was read are left out.
 */
export function rehearsedSoFar(
  { live, draft }: Rehearsal,
  readOf: (source: string) => number,
  { done, all }: { readonly done: number; readonly all: number },
): RehearsalSoFar {
  const sum = { live: { arrived: 0, parsed: 0, kept: 0 }, draft: { arrived: 0, parsed: 0, kept: 0 } };
  for (const which of ['live', 'draft'] as const)
    for (const [source, { arrived, parsed, kept }] of (which === 'live' ? live : draft).sources) {
      const share = readOf(source);
      if (share <= 0) continue;
      sum[which].arrived += arrived.events / share;
      sum[which].parsed += parsed.events / share;
      sum[which].kept += kept.bytes / share;
    }
  const shareOf = ({ arrived, parsed }: { arrived: number; parsed: number }): number =>
    arrived > 0 ? parsed / arrived : 0;
  return {
    ...{ done, all },
    parsed: { live: shareOf(sum.live), draft: shareOf(sum.draft) },
    kept: { live: sum.live.kept, draft: sum.draft.kept },
  };
}
