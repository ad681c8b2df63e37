import type { Currency } from '../costs/book/price-book.ts';
import type { PricedAmount } from '../routing/volume-sums.ts';

/** That something is switched: since when, until when, why, and by whom. Times in milliseconds. */
export interface SwitchView {
  readonly since: number;
  readonly until: number;
  readonly reason: string;
  /** Empty as long as there are no accounts. */
  readonly who: string;
}

/** A posture of the live plan. */
export interface PostureView {
  readonly id: string;
  readonly title: string;
  readonly reason: string;
  /** The fleet that it is for; empty for all. */
  readonly fleet: string;
  /** What it does, each in a few words. */
  readonly overrides: readonly string[];
  /** Null while it is off. */
  readonly on: SwitchView | null;
  /**
   * What would be kept in an hour beyond what is kept without it, by the tape of the last day; null where it is not known yet.
   * Its coins are what an hour costs more.
   */
  readonly adds: PricedAmount | null;
}

/** An exclusion that keeps something else for a while. */
export interface SwitchedExclusionView extends SwitchView {
  readonly tier: string;
  readonly exclusion: string;
  readonly title: string;
  readonly keep: string;
}

/** `GET /api/switches` */
export interface SwitchesAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  readonly postures: readonly PostureView[];
  readonly exclusions: readonly SwitchedExclusionView[];
}

/** `GET /api/switch-tokens` */
export interface SwitchTokensAnswer {
  readonly tokens: readonly {
    readonly id: number;
    /** What it is for. */
    readonly title: string;
    /** Its last four characters. */
    readonly hint: string;
    readonly createdAt: number;
  }[];
}
