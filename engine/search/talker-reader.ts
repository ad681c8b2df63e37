import { countsOf } from '#core/plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '#core/plan/parts/rankings/rankings-shape.ts';
import type { TalkerQuestion, TalkerTable } from '#core/talkers/talker-table.ts';
import type { Database } from '#store/database.ts';
import { findRanking } from '#store/metrics/talkers.ts';
import type { Pools } from '../workers/pools.ts';

let lane = 0;

/** Reads a ranking over a window; undefined where nothing ever came for it. */
export async function readTalkers(
  { database, pools }: { readonly database: Database; readonly pools: Pools },
  ranking: RankingDocument,
  question: TalkerQuestion,
): Promise<TalkerTable | undefined> {
  const number = await findRanking(database.db, ranking.id, countsOf(ranking));
  if (number === undefined) return undefined;
  const shapeKey = ranking.by.findIndex((field) => field.toLowerCase() === 'shape');
  return await pools.read(lane++, { kind: 'talkers', ranking: number, shapeKey, ...question });
}
