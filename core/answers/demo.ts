/**
 * What there is of the demo data: `absent`; `loading`, while its last two weeks are being sent; `loaded`, when its events arrive as they
 * happen; `leaving`, while all of it is being removed.
 */
export type DemoState = 'absent' | 'loading' | 'loaded' | 'leaving';

/** Whether the installation has the demo data. */
export interface DemoAnswer {
  readonly state: DemoState;
  /** How much of its last two weeks is stored, from 0 to 1. */
  readonly share: number;
  /** Why it cannot be loaded here; empty where it can, or is. */
  readonly obstacle: string;
  /** Why loading it failed the last time; empty where it did not. */
  readonly problem: string;
}
