import { desc, eq, gt, isNull, or } from 'drizzle-orm';
import type { DecidedSuggestion, TakenSuggestion } from '#core/usage/decision.ts';
import type { Queryable } from '../database.ts';
import { suggestionDecisions, takenSuggestions } from './schema.ts';

/** Most decisions that are listed. */
const mostListed = 1_000;

/** Suggestions that are put off beyond `now` (milliseconds) or refused, the last decision first. */
export async function decidedSuggestions(tx: Queryable, now: number): Promise<readonly DecidedSuggestion[]> {
  const { until, at } = suggestionDecisions;
  return await tx
    .select()
    .from(suggestionDecisions)
    .where(or(isNull(until), gt(until, now)))
    .orderBy(desc(at))
    .limit(mostListed);
}

/** Stores a decision in place of an earlier one. */
export async function storeDecision(tx: Queryable, decided: DecidedSuggestion): Promise<void> {
  await tx.delete(takenSuggestions).where(eq(takenSuggestions.shape, decided.id));
  const { id: _, ...set } = decided;
  await tx.insert(suggestionDecisions).values(decided).onDuplicateKeyUpdate({ set });
}

/** Forgets what was decided about a suggestion. */
export async function removeDecision(tx: Queryable, id: string): Promise<void> {
  await tx.delete(suggestionDecisions).where(eq(suggestionDecisions.id, id));
  await tx.delete(takenSuggestions).where(eq(takenSuggestions.shape, id));
}

/** Notes that a suggestion was added to a draft, in place of an earlier decision. */
export async function storeTaken(tx: Queryable, taken: TakenSuggestion): Promise<void> {
  await removeDecision(tx, taken.shape);
  await tx.insert(takenSuggestions).values(taken);
}

/** Suggestions that were added to a draft, the last one first. */
export async function listTaken(tx: Queryable): Promise<readonly TakenSuggestion[]> {
  return await tx.select().from(takenSuggestions).orderBy(desc(takenSuggestions.at)).limit(mostListed);
}
