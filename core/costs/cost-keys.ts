/** What costs are told by. */
export const costKeys = ['source', 'team', 'tier', 'outcome'] as const;

export type CostKey = (typeof costKeys)[number];
