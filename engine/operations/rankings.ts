import type { RankingAnswer, RankingsAnswer, RankingView } from '#core/answers/rankings.ts';
import { day, hour } from '#core/events/time-units.ts';
import { type Labels, labelsId, labelsOfId } from '#core/metrics/labels.ts';
import { operations } from '#core/operations/index.ts';
import { besideLive, type DraftState } from '#core/plan/beside-live.ts';
import { readyRankings } from '#core/plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '#core/plan/parts/rankings/rankings-shape.ts';
import { piecesOf, shapeWords } from '#core/shapes/pieces.ts';
import { parseLeftOut } from '#core/talkers/left-out.ts';
import type { TalkerLabels } from '#core/talkers/talker-labels.ts';
import { type TalkerWindow, talkerHours, talkerWindow } from '#core/talkers/talker-levels.ts';
import { designedPlan, livePlan } from '../plan/stored-plans.ts';
import { readTalkers } from '../search/talker-reader.ts';
import { timeOf } from './explore/search.ts';
import { question } from './handler.ts';
import { Refusal } from './refusal.ts';
import type { OperationServices } from './services.ts';

/** Most who are listed of a ranking. */
const mostTalkers = 100;

export const rankings = question(operations.rankings, async (_input, services): Promise<RankingsAnswer> => {
  const { database } = services;
  const now = Date.now();
  const { plan, isDraft } = await designedPlan(database.db);
  const live = isDraft ? (await livePlan(database.db)).plan : plan;
  const listed = [
    ...readyRankings.map((thing) => ({ thing, state: 'live' as const })),
    ...besideLive(plan.rankings ?? [], live.rankings ?? []),
  ];
  const window = { from: Math.floor((now - day) / hour) * hour, to: Math.ceil(now / hour) * hour, level: talkerHours };
  const views = listed.map(({ thing, state }) => viewOf(services, thing, state, window));
  return { isDraft, from: window.from, rankings: await Promise.all(views) };
});

async function viewOf(
  services: OperationServices,
  ranking: RankingDocument,
  state: DraftState,
  window: TalkerWindow,
): Promise<RankingView> {
  const table = await readTalkers(services, ranking, {
    window,
    most: 1,
    at: undefined,
    without: [],
    hasSince: false,
  });
  const [first] = table?.lines ?? [];
  const labels = first && labelsOf(first.id);
  return {
    ...described(ranking),
    isReady: readyRankings.some(({ id }) => id === ranking.id),
    state,
    first:
      first && labels && table
        ? { labels, name: inWords(services, ranking, labels), share: shareOf(first.amount, table.total) }
        : null,
    distinct: table?.distinct ?? 0,
    // The hour that is running yet would look like a fall.
    trend: table?.totals.slice(0, -1) ?? [],
  };
}

export const ranking = question(operations.ranking, async (asked, services): Promise<RankingAnswer> => {
  const now = Date.now();
  const live = (await livePlan(services.database.db)).plan;
  const found = [...readyRankings, ...(live.rankings ?? [])].find(({ id }) => id === asked.id);
  if (!found)
    throw new Refusal(404, '', 'There is no ranking of this id, neither a ready one nor one of the live plan.');
  const window = talkerWindow(timeOf(asked.from, now), timeOf(asked.to, now), now);
  if (window.to <= window.from)
    throw new Refusal(400, '', 'The window ends before it begins, or before what is kept of rankings begins.');
  const at = asked.at === '' ? undefined : timeOf(asked.at, now);
  if (at !== undefined && (at < window.from || at >= window.to))
    throw new Refusal(400, '', 'The time to rank by (at) is not within the window.');
  const without = parseLeftOut(asked.without) ?? [];
  const table = await readTalkers(services, found, {
    ...{ window, at, most: mostTalkers, hasSince: true },
    without: without.map((labels) => labelsId(labels)),
  });
  const { step } = window.level;
  const total = table?.total ?? 0;
  return {
    ...described(found),
    ...{ from: window.from, to: window.to, every: step },
    isRunning: window.to > now,
    at: at === undefined ? null : window.from + Math.floor((at - window.from) / step) * step,
    total,
    leftOut: table?.leftOut ?? 0,
    totals: table?.totals ?? [],
    missed: table?.missed ?? 0,
    distinct: table?.distinct ?? 0,
    talkers: (table?.lines ?? []).map(({ id, amount, values, since = null }) => {
      const labels = labelsOf(id);
      return {
        ...{ labels, amount, values, since },
        name: inWords(services, found, labels),
        share: shareOf(amount, total),
      };
    }),
    without,
  };
});

function described({ id, title, when, by, measure, of = '' }: RankingDocument) {
  return { id, title, when, by, measure, of };
}

function shareOf(amount: number, total: number): number {
  return total > 0 ? Math.min(1, amount / total) : 0;
}

function labelsOf(id: string): TalkerLabels {
  const labels: Labels = labelsOfId(id);
  return labels.map((value) => (typeof value === 'string' ? value : null));
}

/** Who it is, in words: a shape by its constant ones. */
function inWords({ shapes }: OperationServices, { by }: RankingDocument, labels: TalkerLabels): string {
  return labels
    .map((value, i) => {
      if (value === null) return `(no ${by[i]})`;
      const shape = by[i]?.toLowerCase() === 'shape' ? shapes.get(value) : undefined;
      return shape ? shapeWords(piecesOf(shape.skeleton, shape.sample)) : value;
    })
    .join(' · ');
}
