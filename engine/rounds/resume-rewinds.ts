import { leaseNames } from '../cluster/leases.ts';
import type { Round } from './round.ts';
import { isNews } from './round-services.ts';

/** Goes on with sources that are to be read again. */
export const resumeRewinds: Round = {
  name: 'rewinds',
  pause: 1_000,
  lease: leaseNames.rewinds,
  begin: (services) => async () => {
    if (isNews(services, 'hasRewinds')) await services.rewinds.resume();
  },
};
