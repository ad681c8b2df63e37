import { day } from '../events/time-units.ts';

/** The tier, built in, that holds for an hour what no other tier keeps. */
export const passingTier = { id: 'passing', title: 'Passing', keep: 3_600_000 } as const;

/** The tier, built in, that holds for a week what steps rejected. */
export const rejectsTier = { id: 'rejects', title: 'Rejects', keep: 7 * day } as const;
