import type { Round } from '../round.ts';
import { isNews } from '../round-services.ts';

/** Learns what other engines have learnt of senders. */
export const listenToOthers: Round = {
  name: 'listening to other engines',
  pause: 1_000,
  begin: (services) => () => services.learning.listen(isNews(services, 'hasDeltasOfOthers')),
};
