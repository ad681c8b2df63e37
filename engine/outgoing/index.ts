import type { Follower } from './follower.ts';

/** All who get the stream beside the tiers. */
export const followers: readonly Follower[] = [];
