import type { MatchesAnswer } from '#core/answers/routing.ts';
import type { CatalogueAnswer } from '#core/answers/search.ts';
import { coinsOfFields } from '#core/costs/coins-of-fields.ts';
import { dayLength } from '#core/costs/month/calendar.ts';
import { hour } from '#core/events/time-units.ts';
import { catalogueFields, fieldShares } from '#core/fields/catalogue.ts';
import { operations } from '#core/operations/index.ts';
import { fieldUses } from '#core/plan/field-uses.ts';
import type { RehearsalAnswer, RehearsalFindings } from '#core/rehearsal/rehearsal-answer.ts';
import { answerWithMoney } from '#core/rehearsal/rehearsal-money.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { readAgain } from '../../intake/read-again.ts';
import { checkedDraft, designedPlan, livePlan } from '../../plan/stored-plans.ts';
import { retryRejects as sendAgain } from '../../reprocessing/retry.ts';
import { runMatches } from '../../search/run-matches.ts';
import { rehearseTape, rehearseAgain as runAgain, rehearseRejects as runRejects } from '../../search/run-rehearsal.ts';
import { lastQuestions } from '../../usage/question-readers.ts';
import { withoutSaved } from '../explore/expand-saved.ts';
import { longCommand, question } from '../handler.ts';
import type { OperationServices } from '../services.ts';
import { knownSource, readingTime } from '../sources/known-source.ts';
import { rightPlan } from './draft-answer.ts';
import { readersOf } from './readers.ts';

export const catalogue = question(operations.catalogue, async (_input, services): Promise<CatalogueAnswer> => {
  const { database } = services;
  const { plan, isDraft } = await designedPlan(database.db);
  const found = await services.tapedFields.catalogue(plan);
  const now = Date.now();
  const prices = await services.costs.prices(now);
  const day = { from: now - dayLength, to: now + hour };
  const came = prices ? await sumLedger(database, day, ['source', 'outcome', 'tier'], 0) : [];
  const coins = prices && coinsOfFields(fieldShares(found), came, prices);
  return {
    currency: prices?.currency ?? null,
    ...{ events: found.events, leftOut: found.leftOut },
    fields: catalogueFields(found).map((field) => ({ ...field, coins: coins?.get(field.name) ?? 0 })),
    ...{ ...fieldUses(plan), draft: isDraft },
  };
});

export const matches = question(
  operations.matches,
  async ({ condition: written, tier, within, before }, services, { signal }): Promise<MatchesAnswer> => {
    const { database, pools, directory } = services;
    const condition = await withoutSaved(database.db, written);
    const { plan } = await designedPlan(database.db);
    const readers = within
      ? [...(await readersOf(services, plan)), ...(await lastQuestions(database.db, Date.now(), mostQuestions))]
      : [];
    const { read, ...found } = await runMatches(
      { database, pools, plan, tables: directory.tables, fleets: directory.fleets, signal },
      { condition, tier, within, before, readers: readers.map((reader) => reader.condition) },
    );
    return {
      ...found,
      readers: readers.flatMap(({ kind, name }, i) => {
        const share = (read[i] ?? 0) / Math.max(1, found.matched.events);
        return kind !== 'exclusion' && share > 0 ? [{ kind, name, share }] : [];
      }),
    };
  },
);

/** Most questions of the last 30 days that matches are counted for. */
const mostQuestions = 50;

/** The draft, or without one the live plan, beside the live plan. */
async function bothPlans({ database, directory, pools }: OperationServices, signal: AbortSignal) {
  const { plan: live } = await livePlan(database.db);
  const stored = await checkedDraft(database.db);
  const draft = stored ? rightPlan(stored) : live;
  return { database, pools, live, draft, tables: directory.tables, fleets: directory.fleets, signal };
}

/** Rehearses both plans over events that come once, and tells what they cost. */
async function withMoney(
  services: OperationServices,
  signal: AbortSignal,
  run: (plans: Awaited<ReturnType<typeof bothPlans>>) => Promise<RehearsalFindings>,
): Promise<RehearsalAnswer> {
  const plans = await bothPlans(services, signal);
  const findings = await run(plans);
  const prices = await services.costs.prices(Date.now());
  return answerWithMoney(findings, { prices, plans, times: 1, month: { views: [], fleetsOf: () => [] } });
}

export const rehearseRejects = question(operations.rehearseRejects, async ({ reason }, services, { signal }) =>
  withMoney(services, signal, (plans) => runRejects(plans, reason)),
);

export const rehearseAgain = question(operations.rehearseAgain, async ({ name, from }, services, { signal }) => {
  const time = readingTime(from);
  const source = await knownSource(services.database.db, name);
  const deliveries = readAgain(services.directory, source, services.bounds);
  // What other sources sent can only be read from the tape.
  return await withMoney(services, signal, (plans) =>
    deliveries ? runAgain(plans, deliveries, time) : rehearseTape(plans, () => {}, { source: name, from: time }),
  );
});

export const retryRejects = longCommand(operations.retryRejects, {
  subject: ({ reason }) => reason,
  carryOut: async ({ reason, source }, services) => {
    const of = { reason, source, from: 0, to: Number.MAX_SAFE_INTEGER };
    return await sendAgain({ ...services, tables: services.directory.tables }, of);
  },
});
