/** What volume costs, as it is written in YAML or JSON. Prices are in the currency; days are those of UTC, as in the ledger. */
export interface PriceBook {
  readonly prices: 1;
  readonly currency: Currency;
  /** One after the other by their dates: each holds until the next one does. */
  readonly entries: readonly PriceEntry[];
  readonly budgets?: readonly Budget[] | undefined;
  /** False where money is turned off: it is on no screen then and in no answer. */
  readonly shown?: boolean | undefined;
}

export interface Currency {
  /** What is before an amount: `$`, `EUR`. */
  readonly sign: string;
  /** How many digits behind the point its smallest coin has: 2 where it is a hundredth. */
  readonly digits: number;
}

/** What a unit costs. What is absent costs nothing. */
export interface Rates {
  /** A GB (10⁹ bytes) that arrives, whatever becomes of it. */
  readonly received?: number | undefined;
  /** A million events that are kept, by the days for which their tier keeps them. */
  readonly kept?: readonly KeptPoint[] | undefined;
  /** A GB that is stored for a month. */
  readonly stored?: number | undefined;
  /** A metric series for a month. Own rates of it count nowhere: series belong to no team or tier. */
  readonly series?: number | undefined;
  /** A GB that searches scan. Counts once what they scan is in the ledger. */
  readonly scanned?: number | undefined;
  /** A GB that is archived, and one that is sent on. Count once volume goes there. */
  readonly archived?: number | undefined;
  readonly sent?: number | undefined;
}

/** A point of the curve of prices by days kept: straight between two of them, flat beyond the first and the last. */
export interface KeptPoint {
  readonly days: number;
  readonly price: number;
}

export interface PriceEntry extends Rates {
  /** The first day on which it holds, `2026-10-01`. */
  readonly from: string;
  /** Off the price of what is received in a month beyond an amount. */
  readonly discount?: Discount | undefined;
  /** Rates of teams and tiers that are other than for all; the first that fits counts, for the rates that it names. */
  readonly own?: readonly OwnRates[] | undefined;
}

export interface Discount {
  /** GB a month. */
  readonly above: number;
  readonly percent: number;
}

/** Rates of the sources of a team, of a tier, or of what comes from the one to the other. */
export interface OwnRates extends Rates {
  readonly team?: string | undefined;
  readonly tier?: string | undefined;
}

/** What a calendar month may cost: all of it, or the part of a team, a fleet or a tier. */
export interface Budget {
  readonly amount: number;
  readonly team?: string | undefined;
  readonly fleet?: string | undefined;
  readonly tier?: string | undefined;
}

/** A book for who runs the machines: what is stored costs most, with power, disks and hours of people in it. */
export const ownServers: PriceBook = {
  prices: 1,
  currency: { sign: '$', digits: 2 },
  entries: [{ from: '2026-01-01', received: 0.12, stored: 0.35 }],
};

/** A book for who pays by volume: what comes in costs most, and events by the days that they are kept. */
export const paidByVolume: PriceBook = {
  prices: 1,
  currency: { sign: '$', digits: 2 },
  entries: [
    {
      from: '2026-01-01',
      received: 0.6,
      kept: [
        { days: 3, price: 0.9 },
        { days: 15, price: 1.5 },
        { days: 30, price: 2.2 },
      ],
      stored: 0.02,
    },
  ],
};
