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

/** What came since the frame before that one view is about. */
export interface ViewFrame {
  /** Events: all of them, or estimated where only a share was looked at. */
  readonly matched: number;
  /** The same by severity class: 0 unset, 1 trace … 6 fatal. */
  readonly severities: readonly number[];
  /** Some of them by chance, or all; the newest last. */
  readonly lines: readonly ArrivedLine[];
}

/** `GET /api/arrivals`: the data of each server-sent event. */
export interface ArrivalsFrame {
  /** The engine that the events came in at: each tells of its own. */
  readonly engine: string;
  /** Milliseconds since the frame before. */
  readonly span: number;
  /** The share of events that conditions were asked of, 0 to 1; below 1 when looking at all would hold up the intake. */
  readonly lookedAt: number;
  readonly views: readonly ViewFrame[];
}
