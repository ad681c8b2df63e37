import { sql } from 'drizzle-orm';
import type { Database } from './database.ts';

/** What a node of a Galera cluster says of itself when it takes part in the cluster and is up to date (`wsrep_local_state`). */
const synced = '4';

/** Whether the node of the store that is asked may be: one of a cluster has to be up to date; one that is in none is. */
export async function nodeIsSynced({ db }: Database): Promise<boolean> {
  const answer: unknown = await db.execute(sql`
    select variable_value as state from information_schema.global_status where variable_name = 'wsrep_local_state'`);
  const rows: unknown = Array.isArray(answer) ? answer[0] : [];
  const row: unknown = Array.isArray(rows) ? rows[0] : undefined;
  if (typeof row !== 'object' || row === null || !('state' in row)) return true;
  return row.state === synced || row.state === '' || row.state === null;
}
