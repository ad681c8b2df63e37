import type { PartScreen } from '../part-screen.ts';
import { withQuery } from '../with-query.ts';

/** Tiers, in Routing. */
export const tiers: PartScreen = {
  key: 'tiers',
  page: (id) => `/routing#${id}`,
  form: ({ id, exclusion, field }) => withQuery('/routing', { tier: id, exclusion, field }),
};
