import type { Lease } from '#store/cluster/leases.ts';
import { repeat } from '../base/repeat.ts';
import type { Service } from '../base/service.ts';
import { rounds } from './index.ts';
import type { LeasedRound } from './round.ts';
import type { RoundServices } from './round-services.ts';

/** Starts all rounds; each is a service that stops at the end of its turn. */
export function startRounds(services: RoundServices): readonly Service[] {
  return rounds.map((round) => {
    const { name, pause } = round;
    const turn = round.lease === undefined ? round.begin(services) : leased(round, services);
    const repeated = repeat(typeof pause === 'function' ? pause(services) : pause, services.log, turn, {
      name,
      onFailure: () => services.measures.failedRound(name),
    });
    return { name, quiet: repeated.stop };
  });
}

/** A turn that is taken only while this engine holds the lease, and, where it deletes, only while the clock is trusted. */
function leased(round: LeasedRound, services: RoundServices): () => Promise<unknown> {
  const { leases, clock } = services;
  const turn = round.begin(services);
  const work = async (lease: Lease): Promise<unknown> => {
    if (round.deletes && !(await clock.mayDelete(Date.now()))) return undefined;
    return await turn(lease);
  };
  return () => leases.holding(round.lease, work);
}
