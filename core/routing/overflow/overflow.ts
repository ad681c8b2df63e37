import type { EventBatch } from '../../events/batch.ts';

/** Events that a tier would keep on one day, in the order in which they came. */
export interface CappedRows {
  readonly batch: EventBatch;
  readonly rows: readonly number[];
  /** What each counts against the allowance. */
  readonly costs: readonly number[];
  /** What may be used now of what the day has left, and all that it has left; may be below 0. */
  readonly room: number;
  readonly left: number;
  /** A number in [0, 1). */
  readonly random: () => number;
}

/** What becomes of events when the allowance of their tier's day is used up. One file a kind. */
export interface OverflowKind {
  /** As it is written in a plan. */
  readonly kind: string;
  /** For people: completes “Past it, …”. */
  readonly title: string;
  /** What may be used of a day's allowance when a share (0 to 1) of the day is over. */
  readonly unlocked: (amount: number, share: number) => number;
  /**
   * By place in `rows`, how many events that one stands for which stays; 0 for one that is over. What stays fits the room.
   */
  readonly stay: (capped: CappedRows) => Float32Array;
  /** Whether what is over is kept for an hour in passing, where it can be looked at. */
  readonly passes: boolean;
}

/** The events stay that fit, in their order, until one does not. */
export function firstThatFit({ costs, room }: CappedRows): Float32Array {
  const stay = new Float32Array(costs.length);
  let left = room;
  for (const [place, cost] of costs.entries()) {
    if (cost > left) break;
    left -= cost;
    stay[place] = 1;
  }
  return stay;
}

/** The whole allowance may be used at any time of the day. */
export function wholly(amount: number): number {
  return amount;
}
