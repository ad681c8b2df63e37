import type { FollowerChoice } from '#core/consumers/consumer.ts';
import type { Queryable } from '#store/database.ts';
import type { SpoolBound, SpooledBatch } from '#store/events/spools.ts';

/** Someone who gets the stream beside the tiers, by a spool that is written with the events. */
export interface Follower extends FollowerChoice {
  readonly bound: SpoolBound;
  /**
   * Hands batches on, in order. After a crash the same ones may come again: what is made of them is named after their
   * numbers, so that it takes its own place. Rejects when they could not be handed on; they stay.
   */
  readonly deliver: (batches: readonly SpooledBatch[]) => Promise<void>;
  /** Notes the delivery, in the transaction that takes the batches out of the spool. */
  readonly delivered?: (tx: Queryable, batches: readonly SpooledBatch[]) => Promise<void>;
}
