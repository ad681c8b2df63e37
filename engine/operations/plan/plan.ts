import type { GracesAnswer, RevisionEffectView, RevisionsAnswer, StepsAnswer } from '#core/answers/plan.ts';
import type { RoutingAnswer, ShadowsAnswer, TierShadow } from '#core/answers/routing.ts';
import { day, hour } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import { diffPlans } from '#core/plan/diff.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { keepOf } from '#core/plan/retention.ts';
import type { Shadows } from '#core/rehearsal/shadows.ts';
import type { Amount } from '#core/routing/volume-sums.ts';
import { exclusionBegins, exclusionKey } from '#core/views/exclusion-begins.ts';
import { comparedStretch, type NotedPrediction, revisionEffect } from '#core/views/revision-effect.ts';
import { routingView } from '#core/views/routing.ts';
import { promisedIn, savingMonths } from '#core/views/saving-months.ts';
import type { Database } from '#store/database.ts';
import { contentBetween } from '#store/events/segments.ts';
import { listRevisions, revisionAt } from '#store/plan/plans.ts';
import { prolongTierGrace, runningTierGraces } from '#store/plan/tier-graces.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { notedPrediction } from '../../plan/noted-prediction.ts';
import { designedPlan, livePlan, planOrFirst, publishedPlans } from '../../plan/stored-plans.ts';
import { runShadows } from '../../search/run-shadows.ts';
import { command, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';

/** Revisions that are listed with what they changed and brought. */
const mostRevisions = 20;

export const plan = question(operations.plan, async (_input, { database }) => await livePlan(database.db));

export const routing = question(operations.routing, async (_input, services): Promise<RoutingAnswer> => {
  const now = Date.now();
  const { plan: live } = services.plan.current();
  const [sums, holding, due, prices, begins] = await Promise.all([
    sumLedger(services.database, { from: now - day, to: now + hour }, ['source', 'outcome', 'tier', 'rule'], 0),
    services.status.contents(now),
    dueWithinDay(services.database, live, now),
    services.costs.prices(now),
    youngExclusions(services.database, now),
  ]);
  const contents = new Map(holding.map((content) => [content.tier, content]));
  return routingView(live, sums, { contents, due, prices, begins });
});

/** Most revisions of a day that are examined. */
const mostOfDay = 200;

/** When exclusions younger than a day began (milliseconds). Those that were applied to loaded history cover the whole day, and are left out. */
async function youngExclusions(database: Database, now: number): Promise<ReadonlyMap<string, number>> {
  const from = now - day;
  const before = await revisionAt(database.db, from);
  const plans = await publishedPlans(database.db, before ? before.number - 1 : 0, mostOfDay);
  const young = [...exclusionBegins(plans)].filter(([, begin]) => begin > from);
  if (young.length === 0) return new Map();
  const hours = await sumLedger(database, { from, to: now + hour }, ['tier', 'rule'], hour);
  const first = new Map<string, number>();
  for (const { tier = '', rule = '', start } of hours) {
    const key = exclusionKey(tier, rule);
    first.set(key, Math.min(start, first.get(key) ?? start));
  }
  const fullDay = Math.floor(from / hour) * hour + hour;
  return new Map(young.filter(([key, begin]) => (first.get(key) ?? begin) > fullDay));
}

/** By tier, what it will have let go in a day that it still holds. */
async function dueWithinDay(database: Database, live: PlanDocument, now: number): Promise<ReadonlyMap<string, Amount>> {
  const due = await Promise.all(
    live.tiers.map(async ({ id }) => {
      const { events, bytes } = await contentBetween(database, id, {
        from: 0,
        before: now + day - (keepOf(live, id) ?? 0),
      });
      return [id, { events, bytes }] as const;
    }),
  );
  return new Map(due);
}

export const shadows = question(
  operations.shadows,
  async (_input, { database, pools, directory, plan: holder }, { signal }): Promise<ShadowsAnswer> => {
    const live = holder.current().plan;
    const designed = await designedPlan(database.db);
    const plans = designed.isDraft ? [live, designed.plan] : [live];
    const { tables, fleets } = directory;
    const [of, ofDraft] = await runShadows({ database, pools, tables, fleets, signal }, plans);
    return { live: shadowsOf(of), draft: ofDraft ? shadowsOf(ofDraft) : null };
  },
);

function shadowsOf(shadows: Shadows = new Map()): readonly TierShadow[] {
  return [...shadows].map(([tier, { matched, above }]) => ({
    tier,
    matched,
    above: [...above].map(([id, volume]) => ({ tier: id, ...volume })).sort((a, b) => b.bytes - a.bytes),
  }));
}

export const steps = question(
  operations.steps,
  async (_input, { statistics }): Promise<StepsAnswer> =>
    statistics.steps ?? { revision: 0, since: Date.now(), steps: {} },
);

export const graces = question(operations.graces, async (_input, { database }): Promise<GracesAnswer> => {
  const now = Date.now();
  const { plan: live } = await livePlan(database.db);
  const running = await Promise.all(
    (await runningTierGraces(database, now)).map(async (grace) => {
      const keepsFor = keepOf(live, grace.tier) ?? 0;
      const before = Math.min(grace.before, grace.until - keepsFor);
      const { id, tier, title, revision, until, keptFor } = grace;
      // One that was prolonged lets its events go at their own time.
      const isKept = until >= grace.before + keptFor;
      const content = await contentBetween(database, tier, { from: now - keptFor, before });
      return { id, tier, title, revision, until, keptFor, keepsFor, isKept, ...content };
    }),
  );
  return { graces: running.filter(({ events, keepsFor, keptFor }) => events > 0 && keepsFor < keptFor) };
});

export const keepGraced = command(operations.keepGraced, {
  subject: ({ id }) => String(id),
  carryOut: async ({ id }, { tx, services, now }) => {
    const grace = (await runningTierGraces(services.database, now)).find((running) => running.id === id);
    if (!grace || !(await prolongTierGrace(tx, id, grace.before + grace.keptFor, now)))
      throw new Refusal(404, 'The grace is over', 'The events have been deleted.');
    return {};
  },
});

export const revisions = question(operations.revisions, async (_input, services): Promise<RevisionsAnswer> => {
  const { database } = services;
  const now = Date.now();
  const [list, prices] = await Promise.all([listRevisions(database, mostRevisions), services.costs.prices(now)]);
  const shown = await Promise.all(
    list.map(async ({ predicted: stored, ...revision }, index) => {
      const { number: which, publishedAt } = revision;
      const [document, before] = await Promise.all([
        planOrFirst(database.db, which),
        planOrFirst(database.db, which - 1),
      ]);
      const until = list[index - 1]?.publishedAt;
      const predicted = notedPrediction(stored);
      const measured = { ...revision, flows: predicted?.flows ?? [], until };
      const saving = prices ? await services.costs.savings.of(measured, { before, after: document }, prices) : null;
      return {
        ...revision,
        changes: diffPlans(before, document),
        isRehearsed: predicted !== undefined,
        until: until ?? null,
        effect: predicted ? await effectOf(database, predicted, publishedAt, until ?? now) : null,
        saved: saving?.coins ?? null,
        promised: promisedIn(predicted?.promised, prices?.currency.sign),
        months: savingMonths(saving?.months ?? [], predicted?.promised, prices?.currency.sign),
      };
    }),
  );
  return { currency: prices?.currency ?? null, revisions: shown };
});

async function effectOf(
  database: Database,
  predicted: NotedPrediction,
  publishedAt: number,
  until: number,
): Promise<RevisionEffectView | null> {
  const stretch = comparedStretch(publishedAt, until);
  if (!stretch) return null;
  const came = await sumLedger(database, stretch, ['source', 'outcome', 'parsed'], 0);
  return revisionEffect(predicted, came, stretch);
}
