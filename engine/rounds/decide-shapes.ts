import type { Lease } from '#store/cluster/leases.ts';
import { leaseNames } from '../cluster/leases.ts';
import { ShapeDecisions } from '../shapes/shape-decisions.ts';
import type { Round } from './round.ts';
import { isNews } from './round-services.ts';

/** Decides about new shapes as the holder of the lease; every engine follows what was decided. */
export const decideShapes: Round = {
  name: 'shapes',
  pause: 1_000,
  begin: (services) => {
    const { database, leases, shapes, changes } = services;
    const decisions = new ShapeDecisions(database);
    const decide = (lease: Lease): Promise<boolean> => decisions.round(lease);
    return async () => {
      const decided = isNews(services, 'hasNewShapes') && (await leases.holding(leaseNames.shapes, decide));
      await (decided ? shapes.refresh() : shapes.follow(changes.news?.shapesVersion ?? 0));
    };
  },
};
