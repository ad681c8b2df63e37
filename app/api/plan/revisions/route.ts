import { array, number, object } from 'yup';
import { diffPlans } from '#core/plan/diff.ts';
import { firstPlan } from '#core/plan/document.ts';
import { sumLedger } from '#store/ledger.ts';
import { findRevision, listRevisions } from '#store/plans.ts';
import { atEdge } from '../../../_server/edge.ts';
import { callEngine } from '../../../_server/engine.ts';
import { parsePlan } from '../../../_server/plan.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

const detailed = 20;

const prediction = object({
  kept: object({ live: amount(), draft: amount() }).required(),
  parsed: object({ live: number().required(), draft: number().required() }).required(),
});

function amount() {
  return object({ events: number().required(), bytes: number().required() }).required();
}

/** The revisions, newest first; the latest with what they changed, what was predicted of them and what came of it. */
export async function GET(): Promise<Response> {
  return await atEdge('The revisions could not be read', async () => {
    const database = store();
    const revisions = await listRevisions(database);
    const fresh = await freshEffect();
    const shown = await Promise.all(
      revisions.slice(0, detailed).map(async (revision, index) => {
        const [own, before] = await Promise.all([
          findRevision(database, revision.number),
          findRevision(database, revision.number - 1),
        ]);
        const changes = own ? diffPlans(before ? parsePlan(before.plan) : firstPlan, parsePlan(own.plan)) : [];
        const until = revisions[index - 1]?.publishedAt ?? Date.now();
        const stored: unknown =
          typeof revision.predicted === 'string' ? JSON.parse(revision.predicted) : revision.predicted;
        const predicted = prediction.isValidSync(stored) ? prediction.cast(stored) : null;
        return {
          ...revision,
          predicted,
          changes,
          measured: (await measured(revision.publishedAt, until)) ?? fresh(revision.number),
        };
      }),
    );
    return Response.json({ revisions: array().ensure().cast(shown) });
  });
}

/** Kept and arrived volume, and the share parsed, while a revision was live: from its second minute on, scaled to a day. */
async function measured(from: number, until: number): Promise<object | null> {
  const start = Math.ceil(from / 60_000) * 60_000;
  const end = Math.floor(until / 60_000) * 60_000;
  if (end <= start) return null;
  const sums = await sumLedger(store(), { from: start, to: end }, ['outcome', 'parsed'], 0);
  const scale = 86_400_000 / (end - start);
  const sum = (pick: (row: (typeof sums)[number]) => boolean) => {
    const rows = sums.filter(pick);
    return {
      events: scale * rows.reduce((a, b) => a + b.events, 0),
      bytes: scale * rows.reduce((a, b) => a + b.bytes, 0),
    };
  };
  const arrived = sum(() => true);
  if (arrived.events === 0) return null;
  return {
    minutes: (end - start) / 60_000,
    arrived,
    kept: sum((row) => row.outcome === 'kept'),
    parsedShare: arrived.events > 0 ? sum((row) => row.parsed === true).events / arrived.events : 0,
  };
}

const live = object({
  effect: object({
    revision: number().required(),
    since: number().required(),
    arrived: amount(),
    kept: amount(),
    parsed: amount(),
  }).default(undefined),
});

/** What the engine has counted since a revision came into force: exact, and there within seconds. */
async function freshEffect(): Promise<(revision: number) => object | null> {
  const answer = await callEngine('/live');
  const effect = answer.ok ? live.validateSync(await answer.json()).effect : undefined;
  return (revision) => {
    if (effect?.revision !== revision || effect.arrived.events === 0) return null;
    const minutes = Math.max(Date.now() - effect.since, 5_000) / 60_000;
    const scale = 1_440 / minutes;
    const daily = (sum: { readonly events: number; readonly bytes: number }) => ({
      events: sum.events * scale,
      bytes: sum.bytes * scale,
    });
    return {
      minutes,
      arrived: daily(effect.arrived),
      kept: daily(effect.kept),
      parsedShare: effect.parsed.events / effect.arrived.events,
    };
  };
}
