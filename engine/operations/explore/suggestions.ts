import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { mergeShapeUses, type ShapeUses } from '#core/suggestions/shape-uses.ts';
import { suggestionsOf } from '#core/suggestions/suggest.ts';
import type { ShownPrices } from '../../costs/shown-prices.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import { overTape } from '../../search/over-tape.ts';
import { question } from '../handler.ts';
import { readersOf } from '../plan/readers.ts';
import type { OperationServices } from '../services.ts';

/** Most taped records that are looked at. */
const mostRecords = 60_000;

export const suggestions = question(operations.suggestions, async (_input, services): Promise<SuggestionsAnswer> => {
  const { database, shapes, suggestions: answers } = services;
  const { plan } = await designedPlan(database.db);
  const [readers, prices] = await Promise.all([readersOf(services, plan), services.costs.prices(Date.now())]);
  const key = JSON.stringify([plan, readers, prices?.savedAt]);
  let asked = answers.get(key);
  if (!asked) {
    asked = suggest(services, plan, readers, prices);
    answers.set(key, asked);
    // A failure is not given again.
    asked.catch(() => answers.delete(key));
  }
  const answer = await asked;
  // What is wanted is left alone at once.
  return { ...answer, suggestions: answer.suggestions.filter(({ shape }) => shapes.get(shape)?.wanted === false) };
});

async function suggest(
  { database, pools, directory, shapes }: OperationServices,
  plan: PlanDocument,
  readers: Awaited<ReturnType<typeof readersOf>>,
  prices: ShownPrices | undefined,
): Promise<SuggestionsAnswer> {
  const now = Date.now();
  const task = {
    ...{ kind: 'shapeUses' as const, plan, now },
    readers: readers.map(({ condition }) => condition),
    tables: directory.tables,
    fleets: directory.fleets,
  };
  const uses: ShapeUses = new Map();
  await overTape(
    { database, pools, now, mostRecords },
    (lane, part) => pools.read(lane, { ...task, ...part }),
    (part) => mergeShapeUses(uses, part, (id) => shapes.known.current(id)),
  );
  return {
    at: now,
    currency: prices?.currency ?? null,
    suggestions: suggestionsOf(uses, { readers, factsOf: (id) => shapes.get(id), prices }),
  };
}
