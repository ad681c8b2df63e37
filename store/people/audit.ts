import { and, asc, desc, gte, lt } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import type { Database, Queryable } from '../database.ts';
import { audit } from './schema.ts';

/** A change that someone made. */
export type AuditEntry = typeof audit.$inferSelect;

/** Writes down a change; call it inside the transaction that makes it. */
export async function addToAudit(tx: Queryable, entry: Omit<AuditEntry, 'id'>): Promise<void> {
  await tx.insert(audit).values({ ...entry, subject: fitted(entry.subject, 200) });
}

/** Changes between two times (milliseconds, `to` exclusive), earliest first, at most `most`. */
export async function auditBetween(
  database: Database,
  { from, to }: { readonly from: number; readonly to: number },
  most: number,
): Promise<readonly AuditEntry[]> {
  return await database.db
    .select()
    .from(audit)
    .where(and(gte(audit.at, from), lt(audit.at, to)))
    .orderBy(asc(audit.id))
    .limit(most);
}

/** The latest changes, newest first. */
export async function listAudit(database: Database, most: number): Promise<readonly AuditEntry[]> {
  return await database.db.select().from(audit).orderBy(desc(audit.id)).limit(most);
}
