import { type Labels, labelsOfId } from '../../../metrics/labels.ts';
import type { RouteContext, RoutedBatch } from '../../../routing/route.ts';
import { distinctCount } from '../../../sketches/distinct.ts';
import { mostFrequent } from '../../../sketches/frequent.ts';
import type { CompiledRanking } from '../../../talkers/compiled-ranking.ts';
import { RankedBatch } from '../../../talkers/ranked-batch.ts';
import { TalkerAccumulator } from '../../../talkers/talker-accumulator.ts';
import { mergeTalkers, newTalkerSketch, type TalkerSketch } from '../../../talkers/talker-sketch.ts';
import { isNear } from '../is-near.ts';
import type { PartRehearsal } from '../part-rehearsal.ts';
import { compileRanking, countsOf, readyRankings } from './ranking.ts';
import type { RankingDocument } from './rankings-shape.ts';

/** What a plan makes of a ranking over rehearsed events of the time for which rankings are kept. Plain data. */
export interface RankingEffect extends Pick<RankingDocument, 'title' | 'by' | 'measure' | 'of'> {
  readonly talkers: TalkerSketch;
}

/** By the id of the ranking. */
export type RankingEffects = Map<string, RankingEffect>;

/** Counters of a ranking: as many as those of an hour have. */
const counters = 1_000;

const ready = readyRankings.map(compileRanking);

/** What a rehearsal computes of rankings. */
export const rankingRehearsal: PartRehearsal<RankingEffects, readonly RehearsedRanking[]> = {
  begin: () => new Map(),
  add: (effects, { rankings }, routed, context) => addRankingEffects(effects, rankings, routed, context),
  merge: mergeRankingEffects,
  compare: rehearsedRankings,
};

/** Adds what a batch brings for the rankings of a plan, and for those that are kept anyway. */
export function addRankingEffects(
  effects: RankingEffects,
  rankings: readonly CompiledRanking[],
  { arrived }: RoutedBatch,
  context: RouteContext,
): void {
  if (arrived.rows === 0) return;
  const ranked = new RankedBatch(arrived, context, context.since);
  for (const ranking of [...ready, ...rankings]) {
    const accumulator = new TalkerAccumulator(ranking);
    accumulator.add(ranked);
    let effect = effects.get(ranking.id);
    if (!effect) effects.set(ranking.id, (effect = newEffect(ranking)));
    for (const { sketch } of accumulator.slots) mergeTalkers(effect.talkers, sketch);
  }
}

function newEffect({ title, by, measure, of }: CompiledRanking): RankingEffect {
  return { title, by, measure, of, talkers: newTalkerSketch(counters) };
}

/** Adds all of `other`. */
export function mergeRankingEffects(effects: RankingEffects, other: RankingEffects): void {
  for (const [id, effect] of other) {
    const known = effects.get(id);
    if (known) mergeTalkers(known.talkers, effect.talkers);
    else effects.set(id, effect);
  }
}

/** What a ranking comes to. */
export interface RehearsedContributors extends Pick<RankingDocument, 'by' | 'measure' | 'of'> {
  /** What all contribute together, in what the ranking ranks by. */
  readonly total: number;
  /** How many contribute, estimated. */
  readonly distinct: number;
  /** Who contributes most, and at least how much; null where nobody does. */
  readonly first: { readonly labels: Labels; readonly amount: number } | null;
}

/** A ranking by both plans; null where a plan does not have it. */
export interface RehearsedRanking {
  readonly id: string;
  readonly title: string;
  readonly live: RehearsedContributors | null;
  readonly draft: RehearsedContributors | null;
}

/** The rankings of both plans, those that are kept anyway first. */
export function rehearsedRankings(live: RankingEffects, draft: RankingEffects): readonly RehearsedRanking[] {
  return [...new Set([...draft.keys(), ...live.keys()])].map((id) => ({
    id,
    title: (draft.get(id) ?? live.get(id))?.title ?? id,
    live: contributorsOf(live.get(id)),
    draft: contributorsOf(draft.get(id)),
  }));
}

function contributorsOf(effect: RankingEffect | undefined): RehearsedContributors | null {
  if (!effect) return null;
  const { by, measure, of, talkers } = effect;
  const [first] = mostFrequent(talkers.frequent, 1);
  return {
    ...{ by, measure, of },
    total: talkers.frequent.total,
    distinct: distinctCount(talkers.distinct),
    first: first ? { labels: labelsOfId(first.value), amount: first.count } : null,
  };
}

/**
 * Whether a draft leaves a ranking as it is: the same is ranked, with the same total and as many who contribute, to half a
 * hundredth, and the same first.
 */
export function isRankedAlike({ live, draft }: Pick<RehearsedRanking, 'live' | 'draft'>): boolean {
  if (!live || !draft) return false;
  return (
    countsOf(live) === countsOf(draft) &&
    isNear(live.total, draft.total) &&
    isNear(live.distinct, draft.distinct) &&
    JSON.stringify(live.first?.labels) === JSON.stringify(draft.first?.labels)
  );
}
