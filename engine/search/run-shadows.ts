import type { PlanDocument } from '#core/plan/document.ts';
import { mergeShadows, type Shadows } from '#core/rehearsal/shadows.ts';
import type { Database } from '#store/database.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape } from './over-tape.ts';

/** Most taped records looked at: few enough for an answer while someone drags a tier. */
const mostRecords = 12_000;

/** The shadows of some plans over the tape of the last day; amounts are a day's. */
export async function runShadows(
  setting: {
    readonly database: Database;
    readonly pools: Pools;
    readonly tables: Readonly<Record<string, number>>;
    readonly fleets: ReadonlyMap<string, readonly string[]>;
    readonly signal: AbortSignal;
  },
  plans: readonly PlanDocument[],
): Promise<readonly Shadows[]> {
  const { database, pools, signal, ...rest } = setting;
  const now = Date.now();
  const merged = plans.map((): Shadows => new Map());
  await overTape(
    { database, pools, now, mostRecords, signal },
    (lane, part) => pools.read(lane, { kind: 'shadows', plans, ...part, ...rest, now }),
    (part) => {
      part.forEach((shadows, i) => {
        mergeShadows(merged[i] as Shadows, shadows);
      });
    },
  );
  return merged;
}
