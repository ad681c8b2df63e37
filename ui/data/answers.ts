/** What the API answers, for the types of what screens show. */
export type * from '#core/answers/arrivals.ts';
export type * from '#core/answers/caps.ts';
export type * from '#core/answers/commands.ts';
export type * from '#core/answers/costs.ts';
export type * from '#core/answers/demo.ts';
export type * from '#core/answers/metrics.ts';
export type * from '#core/answers/overview.ts';
export type * from '#core/answers/plan.ts';
export type * from '#core/answers/rankings.ts';
export type * from '#core/answers/routing.ts';
export type * from '#core/answers/search.ts';
export type * from '#core/answers/shapes.ts';
export type * from '#core/answers/sources.ts';
export type * from '#core/answers/suggestions.ts';
export type * from '#core/answers/switches.ts';
export type * from '#core/answers/usage.ts';
export type * from '#core/answers/why.ts';
