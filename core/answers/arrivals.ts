import type { ArrivedLine } from '../arrivals/arrived-line.ts';
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
