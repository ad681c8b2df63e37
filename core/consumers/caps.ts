import type { CapUse } from '../routing/allowances.ts';
import type { Consumer } from './consumer.ts';

/** What tiers with caps kept, and what was past them. */
export const caps: Consumer<readonly CapUse[]> = {
  begin: (_plan, { allowances }) => ({
    add: () => {},
    effect: () => {
      const uses = allowances?.uses() ?? [];
      return uses.length > 0 ? uses : undefined;
    },
  }),
};
