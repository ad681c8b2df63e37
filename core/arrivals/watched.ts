import type { LookShare } from './look-share.ts';

/** Who watches what comes in, and how much of it is looked at for them. */
export interface Watched {
  /** Open views, each with a condition that was checked. */
  readonly views: readonly { readonly id: number; readonly condition: string }[];
  readonly share: LookShare;
  readonly random: () => number;
  readonly currentShape: (id: string) => string;
}
