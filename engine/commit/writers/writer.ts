import type { Queryable } from '#store/database.ts';
import type { ArrivalsHub } from '../../arrivals/arrivals-hub.ts';
import type { Learning } from '../../learning/learning.ts';
import type { Follower } from '../../outgoing/follower.ts';

/** Writes the effect of one kind of consumer. */
export interface EffectWriter<Effect> {
  /**
   * Writes inside the transaction of the group, at the time `at` (milliseconds). What it returns is called after the commit,
   * for what lives in memory only.
   */
  write(tx: Queryable, effect: Effect, at: number): Promise<(() => void) | undefined>;
}

/** What writers may need beyond the transaction. */
export interface WriterSetting {
  /** The name of this engine. */
  readonly engine: string;
  readonly learning: Learning;
  readonly followers: readonly Follower[];
  readonly arrivals: ArrivalsHub;
}
