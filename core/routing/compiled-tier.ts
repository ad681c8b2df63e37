import type { Condition } from '../conditions/condition.ts';
import type { CompiledCap } from './cap.ts';

/** A rule inside a tier: of the events that match, one in `oneIn` is kept (0 none, 1 all). */
export interface CompiledExclusion {
  readonly id: string;
  readonly when: Condition;
  readonly oneIn: number;
  /** The attribute by which events are kept or left out together; undefined for chance. */
  readonly by: string | undefined;
  /** When it ends (milliseconds): later it is as if it were not there. */
  readonly until: number;
}

export interface CompiledTier {
  readonly id: string;
  readonly when: Condition;
  /** How long events stay, in milliseconds. */
  readonly keep: number;
  readonly exclusions: readonly CompiledExclusion[];
  /** What it may keep in a day; undefined: as much as comes. */
  readonly cap: CompiledCap | undefined;
}
