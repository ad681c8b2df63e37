import type { Lease } from '#store/cluster/leases.ts';
import type { Pause } from '../base/repeat.ts';
import type { RoundServices } from './round-services.ts';

/** Something that an engine does again and again. A turn that resolves to true had something to do, to `leftMore` has more. */
export type Round = SharedRound | LeasedRound;

/** A round that every engine does. */
export interface SharedRound extends RoundOf<() => Promise<unknown>> {
  readonly lease?: undefined;
}

/** A round that one engine does at a time: the holder of a lease. */
export interface LeasedRound extends RoundOf<(lease: Lease) => Promise<unknown>> {
  /** The name of the lease. */
  readonly lease: string;
  /** Whether it deletes what is past its time, or makes it coarser: not while the clock is doubted. */
  readonly deletes?: true;
}

interface RoundOf<Turn> {
  /** As the log and `/metrics` name it. */
  readonly name: string;
  readonly pause: Pause | ((services: RoundServices) => Pause);
  /** Prepares it; what is returned is done at each turn. */
  readonly begin: (services: RoundServices) => Turn;
}
