import type { Outcome } from './ledger.ts';

/** What can become of an event: where it is stored and how it is counted. */
export interface Fate {
  readonly outcome: Outcome;
  readonly tier: string;
  readonly rule: string;
  /** The tier that stores it; undefined for none. */
  readonly storedIn: string | undefined;
}

/** Where things stand on the way past the tiers. */
export interface Routing {
  readonly fates: Fate[];
  readonly fateOf: Uint16Array;
  /** 1 for rows that no tier has taken yet. */
  readonly open: Uint8Array;
  readonly weight: Float32Array;
  /** By tier, the rows that went past the cap of another one and are its now. */
  readonly passedOn: Map<string, { readonly from: string; readonly rows: readonly number[] }[]>;
  /** By row that went past a cap, the tier whose cap it was. */
  readonly overflowOf: Map<number, string>;
  refusedBy?: { readonly tier: string; readonly until: number };
}
