import { and, asc, eq, gt, isNull, or } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { emitterVolume } from '../volume/schema.ts';
import { drifts, emitters, filePositions, pickedObjects, rewinds, sources, tokens } from './schema.ts';

export type Source = typeof sources.$inferSelect;
export type NewSource = typeof sources.$inferInsert;
export type Token = typeof tokens.$inferSelect;

/** All sources by name. */
export async function listSources(database: Database): Promise<readonly Source[]> {
  return await database.db.select().from(sources).orderBy(asc(sources.name));
}

/** The source of that name; undefined where there is none. */
export async function findSource(tx: Queryable, name: string): Promise<Source | undefined> {
  const [source] = await tx.select().from(sources).where(eq(sources.name, name));
  return source;
}

/** Adds a source, or changes the one of that name. */
export async function saveSource(tx: Queryable, source: NewSource): Promise<void> {
  const { name: _, createdAt: __, ...changeable } = source;
  await tx.insert(sources).values(source).onDuplicateKeyUpdate({ set: changeable });
}

/** Removes a source and its tokens: nobody may send under its name. */
export async function deleteSource(tx: Queryable, name: string): Promise<void> {
  await tx.delete(tokens).where(eq(tokens.source, name));
  await tx.delete(sources).where(eq(sources.name, name));
}

/** Forgets how far a source was read, who was heard in it and what changed in it. What is stored of it stays. */
export async function forgetSource(database: Database, name: string): Promise<void> {
  await database.db.transaction(async (tx) => {
    for (const table of [filePositions, pickedObjects, rewinds, emitters, emitterVolume, drifts])
      await tx.delete(table).where(eq(table.source, name));
  });
}

/** The tokens that are in force now, those that will expire among them. */
export async function listTokens(database: Database): Promise<readonly Token[]> {
  return await database.db
    .select()
    .from(tokens)
    .where(and(isNull(tokens.revokedAt), or(isNull(tokens.expiresAt), gt(tokens.expiresAt, Date.now()))));
}

/** Takes a token out of force at once, or from a time on (milliseconds); false where none of that number is in force. */
export async function endToken(
  tx: Queryable,
  of: { readonly source: string; readonly id: number },
  at: number,
): Promise<boolean> {
  const end = at <= Date.now() ? { revokedAt: at } : { expiresAt: at };
  const [{ affectedRows }] = await tx
    .update(tokens)
    .set(end)
    .where(and(eq(tokens.source, of.source), eq(tokens.id, of.id), isNull(tokens.revokedAt)));
  return affectedRows > 0;
}

/** Adds a token by its SHA-256 (hexadecimal). */
export async function addToken(tx: Queryable, token: typeof tokens.$inferInsert): Promise<void> {
  await tx
    .insert(tokens)
    .values(token)
    .onDuplicateKeyUpdate({ set: { revokedAt: null } });
}
