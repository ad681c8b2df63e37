/** A sum over the volume ledger; keys that were not asked for are absent. `start` in milliseconds. */
export interface VolumeSum {
  readonly start: number;
  readonly source?: string;
  readonly outcome?: string;
  readonly tier?: string;
  readonly rule?: string;
  readonly parsed?: boolean;
  readonly events: number;
  readonly bytes: number;
  readonly stored: number;
}

/** Events and their bytes as they arrived. */
export interface Amount {
  readonly events: number;
  readonly bytes: number;
}

/** Volume, and what it costs in coins; 0 where it has no price. */
export interface PricedAmount extends Amount {
  readonly coins: number;
}

/** The sum of some amounts, such as sums of the ledger. */
export function amountOf(sums: readonly Amount[]): Amount {
  let events = 0;
  let bytes = 0;
  for (const sum of sums) {
    events += sum.events;
    bytes += sum.bytes;
  }
  return { events, bytes };
}

/** A part of a whole as a share from 0 to 1; 0 of nothing. */
export function shareOf(part: number, whole: number): number {
  return whole > 0 ? part / whole : 0;
}
