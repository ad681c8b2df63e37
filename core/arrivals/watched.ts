import type { Condition } from '../conditions/condition.ts';
import type { LookShare } from './look-share.ts';

/** Who watches what comes in, and how much of it is looked at for them. */
export interface Watched {
  /** Open views. */
  readonly views: readonly { readonly id: number; readonly condition: Condition }[];
  readonly share: LookShare;
  readonly random: () => number;
}
