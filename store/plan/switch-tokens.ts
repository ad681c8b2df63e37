import { desc, eq } from 'drizzle-orm';
import type { Queryable } from '../database.ts';
import { switchTokens } from './schema.ts';

/** A token with which a program may switch postures and exclusions, and do nothing else. */
export type SwitchToken = typeof switchTokens.$inferSelect;

/** All tokens for switching, the newest first. */
export async function listSwitchTokens(tx: Queryable): Promise<readonly SwitchToken[]> {
  return await tx.select().from(switchTokens).orderBy(desc(switchTokens.id));
}

/** Adds a token by its SHA-256 (hexadecimal). */
export async function addSwitchToken(tx: Queryable, token: Omit<SwitchToken, 'id'>): Promise<void> {
  await tx.insert(switchTokens).values(token);
}

/** Ends a token at once; false where there was none. */
export async function removeSwitchToken(tx: Queryable, id: number): Promise<boolean> {
  const [{ affectedRows }] = await tx.delete(switchTokens).where(eq(switchTokens.id, id));
  return affectedRows > 0;
}

/** The token of a SHA-256 (hexadecimal); undefined where there is none. */
export async function findSwitchToken(tx: Queryable, hash: string): Promise<SwitchToken | undefined> {
  const [found] = await tx.select().from(switchTokens).where(eq(switchTokens.hash, hash));
  return found;
}
