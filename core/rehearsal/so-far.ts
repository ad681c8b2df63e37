import type { Rehearsal } from './rehearse.ts';
import { isNowhere } from './transitions.ts';

/** First figures of a running rehearsal, extrapolated to the whole tape. */
export interface RehearsalSoFar {
  /** Chunks of the tape that were read, and their total. */
  readonly done: number;
  readonly all: number;
  /** Shares of events, 0 to 1. */
  readonly parsed: { readonly live: number; readonly draft: number };
  /** Bytes a day. */
  readonly kept: { readonly live: number; readonly draft: number };
}

/**
 * Extrapolates a running rehearsal: the volumes of each source are divided by the share of it that was read (`shareRead`, 0 to 1).
 * Sources without any read chunk are left out.
 */
export function rehearsedSoFar(
  { transitions }: Pick<Rehearsal, 'transitions'>,
  shareRead: (source: string) => number,
  { done, all }: { readonly done: number; readonly all: number },
): RehearsalSoFar {
  const sum = { live: { arrived: 0, parsed: 0, kept: 0 }, draft: { arrived: 0, parsed: 0, kept: 0 } };
  for (const { source, events, bytes, ...places } of transitions.values()) {
    const share = shareRead(source);
    if (share <= 0) continue;
    for (const which of ['live', 'draft'] as const) {
      const [outcome, , , isParsed] = places[which];
      if (isNowhere(places[which])) continue;
      sum[which].arrived += events / share;
      if (isParsed) sum[which].parsed += events / share;
      if (outcome === 'kept') sum[which].kept += bytes / share;
    }
  }
  const shareOf = ({ arrived, parsed }: { arrived: number; parsed: number }): number =>
    arrived > 0 ? parsed / arrived : 0;
  return {
    ...{ done, all },
    parsed: { live: shareOf(sum.live), draft: shareOf(sum.draft) },
    kept: { live: sum.live.kept, draft: sum.draft.kept },
  };
}
