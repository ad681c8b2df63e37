import type { Amount } from '../views/volumes.ts';

/** What a tier really received in the last day, and what it holds. */
export interface TierVolume {
  readonly id: string;
  readonly kept: Amount;
  readonly removed: Amount;
  readonly exclusions: readonly { readonly id: string; readonly removed: Amount }[];
  readonly holds: TierContent | null;
}

/** What a tier holds. */
export interface TierContent extends Amount {
  readonly stored: number;
  readonly from: number;
  readonly to: number;
}

/** `GET /api/routing` */
export interface RoutingAnswer {
  readonly arrived: Amount;
  readonly passing: Amount;
  readonly rejected: Amount;
  readonly tiers: readonly TierVolume[];
}
