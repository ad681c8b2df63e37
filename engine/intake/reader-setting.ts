import type { Database } from '#store/database.ts';
import type { Log } from '../base/log.ts';
import type { Leases } from '../cluster/leases.ts';
import type { SourceBounds } from '../sources/source-bounds.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { IntakeQueue } from './queue.ts';
import type { TapeRate } from './tape-rate.ts';

/** What those need who read sources themselves: files that are followed, objects that are picked up. */
export interface ReaderSetting {
  readonly queue: IntakeQueue;
  readonly directory: SourceDirectory;
  readonly tapeRate: TapeRate;
  readonly database: Database;
  readonly bounds: SourceBounds;
  readonly leases: Leases;
  readonly log: Log;
}
