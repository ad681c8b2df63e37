import type { Currency } from '../costs/book/price-book.ts';
import type { CapUnit } from '../routing/cap.ts';
import type { CapForecast, CapSuggestion } from '../routing/cap-forecast.ts';
import type { Amount } from '../routing/volume-sums.ts';

/** What of a tier's day is used. */
export interface CapView {
  readonly tier: string;
  readonly unit: CapUnit;
  /** What the day allows. */
  readonly amount: number;
  readonly isLifted: boolean;
  /** When its day began and ends, in milliseconds. */
  readonly day: { readonly start: number; readonly end: number };
  readonly kept: Amount;
  /** What went another way, in all, and what of it by source and by shape (a line of it); the greatest first. */
  readonly over: Amount;
  /** Since when, in milliseconds, to the hour; null where nothing did. */
  readonly overSince: number | null;
  readonly sources: readonly (Amount & { readonly source: string })[];
  readonly shapes: readonly (Amount & { readonly shape: string; readonly sample: string })[];
  readonly forecast: CapForecast | null;
  /** Coins that today costs less as what is over is not kept here; 0 where nothing has a price. */
  readonly saves: number;
}

/** `GET /api/routing/caps` */
export interface CapsAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  /** Of tiers that have a cap in the live plan. */
  readonly caps: readonly CapView[];
  /** Of all live tiers. */
  readonly suggestions: readonly {
    readonly tier: string;
    readonly events: CapSuggestion | null;
    readonly bytes: CapSuggestion | null;
  }[];
}
