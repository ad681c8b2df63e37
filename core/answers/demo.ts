/**
 * The state of the demo data: `absent`, `loading` (its past is being sent), `loaded` (its events arrive as they happen), or
 * `leaving` (it is being removed).
 */
export type DemoState = 'absent' | 'loading' | 'loaded' | 'leaving';

/** `GET /api/demo` */
export interface DemoAnswer {
  readonly state: DemoState;
  /** The share of its past that is stored, from 0 to 1. */
  readonly share: number;
  /** Why it cannot be loaded here; empty if it can. */
  readonly obstacle: string;
  /** Why its senders failed the last time; they are started again. Empty while they run. */
  readonly problem: string;
}
