import type { Condition } from '../conditions/condition.ts';

/** A ranking ready to take events in. */
export interface CompiledRanking {
  readonly id: string;
  readonly title: string;
  /** What it counts, by which sketches that belong together are told apart. */
  readonly counts: string;
  readonly when: Condition;
  readonly measure: 'events' | 'bytes' | 'sum';
  /** The field that is summed; empty where none is. */
  readonly of: string;
  readonly by: readonly string[];
}
