import type { PlanDocument } from '#core/plan/document.ts';
import { type Matches, mergeMatches, newMatches, planUpTo } from '#core/rehearsal/matches.ts';
import type { Database } from '#store/database.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape } from './over-tape.ts';

/** Most taped records looked at: few enough for an answer while someone types. */
const mostRecords = 12_000;

/** What a condition of a tier, or (`within`) of one of its exclusions, matches of the last day; amounts are a day's. */
export async function runMatches(
  setting: {
    readonly database: Database;
    readonly pools: Pools;
    readonly plan: PlanDocument;
    readonly tables: Readonly<Record<string, number>>;
    readonly fleets: ReadonlyMap<string, readonly string[]>;
    readonly signal: AbortSignal;
  },
  asked: {
    readonly condition: string;
    readonly tier: string | undefined;
    readonly within: boolean;
    readonly before: readonly string[];
    readonly readers: readonly string[];
  },
): Promise<Matches> {
  const { database, pools, tables, fleets, signal } = setting;
  const plan = planUpTo(setting.plan, asked.tier, asked.within);
  const now = Date.now();
  const found = newMatches(asked.readers.length);
  await overTape(
    { database, pools, now, mostRecords, signal },
    (lane, part) => pools.read(lane, { kind: 'matches', plan, ...asked, ...part, tables, fleets, now }),
    (part) => mergeMatches(found, part),
  );
  return found;
}
