import { desc, eq, gt, isNull, or } from 'drizzle-orm';
import type { DecidedSuggestion } from '#core/usage/decision.ts';
import type { Queryable } from '../database.ts';
import { suggestionDecisions } from './schema.ts';

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
  const { shape: _, ...set } = decided;
  await tx.insert(suggestionDecisions).values(decided).onDuplicateKeyUpdate({ set });
}

/** Forgets a decision. */
export async function removeDecision(tx: Queryable, shape: string): Promise<void> {
  await tx.delete(suggestionDecisions).where(eq(suggestionDecisions.shape, shape));
}
