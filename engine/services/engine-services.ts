import type { FastifyInstance } from 'fastify';
import type { CommitLoop } from '../commit/groups.ts';
import type { TapeRate } from '../intake/tape-rate.ts';
import type { RoundServices } from '../rounds/round-services.ts';

/** All services of an engine. */
export interface EngineServices extends RoundServices {
  readonly tapeRate: TapeRate;
  /** The HTTP side of the intake; it does not listen yet. */
  readonly intake: FastifyInstance;
  readonly commits: CommitLoop;
}
