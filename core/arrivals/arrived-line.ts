import type { Outcome } from '../routing/ledger.ts';

/** A line of what comes in, and where it went. Times in milliseconds. */
export interface ArrivedLine {
  readonly received: number;
  readonly time: number;
  readonly severity: number;
  readonly source: string;
  readonly emitter: string;
  /** What it says, at most 500 characters; its fields where it has no body. */
  readonly text: string;
  /** How many events one stood for when it arrived. */
  readonly weight: number;
  /** The id of its shape; empty where that is not known. */
  readonly shape: string;
  readonly outcome: Outcome;
  /** The tier that took it, and the exclusion or step that decided; empty when none did. */
  readonly tier: string;
  readonly rule: string;
}
