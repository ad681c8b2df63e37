import type { Queryable } from '#store/database.ts';

/**
 * Something that every engine learns from what all groups reported, so that each can answer for all, and that the holder of the
 * health lease saves.
 */
export interface Learner {
  /** The kind of effect that it learns from. */
  readonly kind: string;
  /** Takes in what a group reported, at the time of its commit (milliseconds). */
  learn(data: Uint8Array, at: number): void;
  /** Reads what was saved, in place of everything that was learnt; what is not saved yet is given again afterwards. */
  load(tx: Queryable): Promise<void>;
  /** Called when everything has been given again after {@link load}. */
  loaded?(): void;
  /** Saves what was learnt since the last time, inside a transaction. Returns what undoes that where it failed. */
  save(tx: Queryable): Promise<() => void>;
  /** Another engine saves: nothing need be kept for saving. */
  letOthersSave?(): void;
}
