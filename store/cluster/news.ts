import { type SQL, sql } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { newShapes } from '../events/schema.ts';
import { metricFills } from '../metrics/schema.ts';
import { deltas, rewinds } from '../sources/schema.ts';
import { changes, shapesVersion } from './counters.ts';
import { counters } from './schema.ts';

/** What there is to read and to do, at a glance: what an engine would ask again and again is asked in one question. */
export interface News {
  /** How many changes people have made so far. */
  readonly changes: number;
  /** The version of the latest decision about shapes. */
  readonly shapesVersion: number;
  /** Whether there are shapes to decide about. */
  readonly hasNewShapes: boolean;
  /** Whether a source is being read again. */
  readonly hasRewinds: boolean;
  /** Whether a metric is being filled in. */
  readonly hasFills: boolean;
  /** Whether other engines wrote deltas lately. */
  readonly hasDeltasOfOthers: boolean;
}

/** What is new for an engine. */
export async function readNews(tx: Queryable, engine: string): Promise<News> {
  const counted = (name: string): SQL =>
    sql`coalesce((select ${counters.value} from ${counters} where ${counters.name} = ${name}), 0)`;
  const answer: unknown = await tx.execute(sql`select
    ${counted(changes)} as changes,
    ${counted(shapesVersion)} as shapesVersion,
    exists(select 1 from ${newShapes}) as hasNewShapes,
    exists(select 1 from ${rewinds} where ${rewinds.step} <> 'done') as hasRewinds,
    exists(select 1 from ${metricFills} where ${metricFills.isDone} = false) as hasFills,
    exists(select 1 from ${deltas} where ${deltas.engine} <> ${engine}) as hasDeltasOfOthers`);
  const [row]: readonly unknown[] = Array.isArray(answer) && Array.isArray(answer[0]) ? answer[0] : [];
  const number = (name: keyof News): number => Number(Reflect.get(Object(row), name));
  return {
    changes: number('changes'),
    shapesVersion: number('shapesVersion'),
    hasNewShapes: number('hasNewShapes') > 0,
    hasRewinds: number('hasRewinds') > 0,
    hasFills: number('hasFills') > 0,
    hasDeltasOfOthers: number('hasDeltasOfOthers') > 0,
  };
}
