import type { Reader } from '#core/answers/routing.ts';
import type { SuggestionsAnswer } from '#core/answers/suggestions.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { day } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { mergeShapeUses, type ShapeUses } from '#core/suggestions/shape-uses.ts';
import { suggestionsOf } from '#core/suggestions/suggest.ts';
import type { TakenSuggestion } from '#core/usage/decision.ts';
import { usageDays } from '#core/usage/usage.ts';
import { decidedSuggestions, removeDecision, storeDecision, storeTaken } from '#store/people/suggestion-decisions.ts';
import { firstUsageDay, readSince } from '#store/people/usage.ts';
import { inTurn } from '../../base/in-turn.ts';
import type { ShownPrices } from '../../costs/shown-prices.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import { overTape } from '../../search/over-tape.ts';
import { allQuestions } from '../../usage/question-readers.ts';
import { longCommand, question } from '../handler.ts';
import { readersOf } from '../plan/readers.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { changeSuggestions } from './change-suggestions.ts';
import { followedSuggestions } from './followed-suggestions.ts';
import { type Suggested, unsettledFor } from './known-suggestions.ts';
import { piecesOfShape } from './pieces-of-shape.ts';

/** Most suggestions in an answer. */
const mostSuggestions = 20;
/** Most taped records that are looked at. */
const mostRecords = 60_000;

export const suggestions = question(operations.suggestions, async (_input, services): Promise<SuggestionsAnswer> => {
  const { database } = services;
  const now = Date.now();
  const [{ isSettled: _, ...answer }, decided, taken, changes] = await Promise.all([
    undecidedSuggestions(services, now),
    decidedSuggestions(database.db, now),
    followedSuggestions(services, now),
    changeSuggestions(services, now),
  ]);
  const isDecided = new Set(decided.map(({ id }) => id));
  const titles = new Map(changes.map(({ id, title }) => [id, title]));
  return {
    ...answer,
    taken,
    decided: decided.map((one) => ({
      ...one,
      pieces: isChange(one.id) ? [] : piecesOfShape(services, one.id),
      title: titles.get(one.id) ?? '',
    })),
    changes: changes.filter(({ id }) => !isDecided.has(id)).slice(0, mostSuggestions),
    suggestions: answer.suggestions.slice(0, mostSuggestions),
  };
});

/** What can be suggested now. */
async function undecidedSuggestions(services: OperationServices, now: number): Promise<Suggested> {
  const { database, shapes, suggestions: answers } = services;
  const { plan } = await designedPlan(database.db);
  await services.usage.saveIfPossible(now);
  const [ofPlan, questions, prices, read, firstDay] = await Promise.all([
    readersOf(services, plan),
    allQuestions(database.db, now),
    services.costs.prices(now),
    readSince(database.db, 'shape', dayOf(now) - usageDays),
    firstUsageDay(database.db),
  ]);
  const readers = [...ofPlan, ...questions];
  const recordedDays = daysSince(firstDay, now);
  const key = JSON.stringify([plan, readers, prices?.savedAt, Math.floor(recordedDays)]);
  let asked = answers.get(key);
  if (!asked) {
    asked = suggest(services, plan, { readers, prices, recordedDays });
    answers.set(key, asked);
    asked.then(
      (answer) => {
        if (!answer.isSettled) answers.set(key, Promise.resolve(answer), { ttl: unsettledFor });
      },
      // A failure is not given again.
      () => answers.delete(key),
    );
  }
  const answer = await asked;
  const decided = await decidedSuggestions(database.db, now);
  // What is wanted, what somebody looked at, and what was decided is left alone at once.
  const leftAlone = new Set([...read, ...decided.map((one) => one.id)].map((id) => shapes.known.current(id)));
  // Shapes beyond the limit of what is counted were read as one without a name.
  const isLeft = (shape: string): boolean =>
    shapes.get(shape)?.wanted !== false || leftAlone.has(shape) || read.includes('');
  return { ...answer, suggestions: answer.suggestions.filter(({ shape }) => !isLeft(shape)) };
}

function daysSince(firstDay: number | undefined, now: number): number {
  return firstDay === undefined ? 0 : now / day - firstDay;
}

/** With what suggestions are asked for. */
interface Asked {
  readonly readers: readonly (Omit<Reader, 'share'> & { readonly condition: string })[];
  readonly prices: ShownPrices | undefined;
  /** For how many days usage has been recorded. */
  readonly recordedDays: number;
}

async function suggest(
  { database, pools, directory, shapes }: OperationServices,
  plan: PlanDocument,
  { readers, prices, recordedDays }: Asked,
): Promise<Suggested> {
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
    isSettled: [...uses.keys()].every((id) => shapes.get(id) !== undefined),
    currency: prices?.currency ?? null,
    suggestions: suggestionsOf(uses, { readers, prices, recordedDays, factsOf: (id) => shapes.get(id) }),
  };
}

export const decideSuggestion = longCommand(operations.decideSuggestion, {
  subject: ({ id }) => id,
  carryOut: async ({ id, decision, days, reason }, services, _asking, record) => {
    const { database, shapes } = services;
    const now = Date.now();
    const current = isChange(id) ? id : shapes.known.current(id);
    if (!isChange(id) && !shapes.get(current)) throw new Refusal(404, '', 'There is no shape of this id.');
    if (isChange(id) && decision !== 'reopen') await refuseUnknown(services, id, now);
    const taken = decision === 'take' ? await takenNow(services, current, now) : undefined;
    await inTurn(() =>
      database.db.transaction(async (tx) => {
        await record(tx);
        const until = decision === 'put off' ? now + days * day : null;
        if (taken) await storeTaken(tx, taken);
        else if (decision === 'reopen') await removeDecision(tx, current);
        else await storeDecision(tx, { id: current, until, reason, at: now });
      }),
    );
    return null;
  },
});

/** Whether an id is that of a change of a tier. */
function isChange(id: string): boolean {
  return id.includes(':');
}

async function refuseUnknown(services: OperationServices, id: string, now: number): Promise<void> {
  const changes = await changeSuggestions(services, now);
  if (!changes.some((change) => change.id === id)) throw new Refusal(404, '', 'This is not suggested any more.');
}

/** A suggestion as it is taken, with what it promises; refuses one that is not made. */
async function takenNow(services: OperationServices, shape: string, at: number): Promise<TakenSuggestion> {
  const { suggestions: all, currency } = await undecidedSuggestions(services, at);
  const suggestion = all.find((one) => one.shape === shape);
  if (!suggestion) throw new Refusal(409, '', 'This is not suggested any more.');
  const { tiers, coins } = suggestion;
  return { shape, at, tiers, coins, sign: currency?.sign ?? '' };
}
