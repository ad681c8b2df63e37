import type { Currency } from '../costs/book/price-book.ts';
import type { PlanReader } from '../plan/parts/part.ts';
import type { Matches } from '../rehearsal/matches.ts';
import type { Amount } from '../routing/volume-sums.ts';

/** Something that reads events by a condition of its own. */
export interface Reader {
  /** `question`: somebody asked it lately; its name is its condition. */
  readonly kind: PlanReader['kind'] | 'search' | 'question';
  readonly name: string;
  /** The share of the events in question that it is about. */
  readonly share: number;
}

/** `POST /api/routing/matches` */
export interface MatchesAnswer extends Omit<Matches, 'read'> {
  /** Who reads what an exclusion matches. */
  readonly readers: readonly Reader[];
}

/** What an exclusion matched in the last day, and what of it was not kept. */
export interface ExclusionVolume {
  readonly id: string;
  readonly matched: Amount;
  readonly removed: Amount;
  /** Coins that 30 such days cost less as what was removed is not kept; 0 where nothing has a price. */
  readonly saves: number;
  /** Coins that they would cost less if nothing of what it matched were kept: what it saves is a part of them. */
  readonly wouldSave: number;
  /** When the exclusion began (milliseconds) if it is younger than a day; null if the figures cover the whole day. */
  readonly since: number | null;
}

/** What a tier really received in the last day, and what it holds. */
export interface TierVolume {
  readonly id: string;
  readonly kept: Amount;
  readonly removed: Amount;
  /** What went past its cap. */
  readonly over: Amount;
  readonly exclusions: readonly ExclusionVolume[];
  readonly holds: TierContent | null;
  /** What of it will be past its time within a day. */
  readonly due: Amount;
}

/** What a tier holds. */
export interface TierContent extends Amount {
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}

/** What a tier's condition matches of all that arrives in a day, and which tiers above take how much of it. */
export interface TierShadow {
  readonly tier: string;
  readonly matched: Amount;
  /** The one that takes most first. */
  readonly above: readonly (Amount & { readonly tier: string })[];
}

/** `GET /api/routing/shadows` */
export interface ShadowsAnswer {
  readonly live: readonly TierShadow[];
  /** Null where there is no draft, or one that is not right. */
  readonly draft: readonly TierShadow[] | null;
}

/** `GET /api/routing` */
export interface RoutingAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  readonly arrived: Amount;
  readonly passing: Amount;
  readonly rejected: Amount;
  readonly tiers: readonly TierVolume[];
}
