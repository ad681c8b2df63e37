import { conditionOf } from '../../../conditions/condition.ts';
import type { CompiledRanking } from '../../../talkers/compiled-ranking.ts';
import type { PlanDocument } from '../../document.ts';
import type { RankingDocument } from './rankings-shape.ts';

/** Rankings that are kept whatever the plan says. */
export const readyRankings: readonly RankingDocument[] = [
  { id: 'sources', title: 'Sources', when: '', by: ['source'], measure: 'bytes' },
  { id: 'emitters', title: 'Emitters', when: '', by: ['emitter', 'source'], measure: 'events' },
  { id: 'shapes', title: 'Shapes', when: '', by: ['shape', 'source'], measure: 'events' },
  { id: 'clients', title: 'Clients', when: 'has client', by: ['client'], measure: 'events' },
];

/** Compiles the rankings of a plan that has been checked. */
export function compileRankings({ rankings = [] }: Pick<PlanDocument, 'rankings'>): readonly CompiledRanking[] {
  return rankings.map(compileRanking);
}

/** Compiles a ranking that has been checked. */
export function compileRanking(ranking: RankingDocument): CompiledRanking {
  const { id, title, when, measure, of = '', by } = ranking;
  return { id, title, counts: countsOf(ranking), when: conditionOf(when), measure, of, by };
}

/** What a ranking counts, whichever events it is of: rankings of which this differs cannot be put together. */
export function countsOf({ measure, of, by }: Pick<RankingDocument, 'measure' | 'of' | 'by'>): string {
  return JSON.stringify([measure, of ?? '', ...by]);
}

/** What a ranking is by, in a few words: `bytes by source`. */
export function describeRanking({ by, ...of }: Pick<RankingDocument, 'measure' | 'of' | 'by'>): string {
  return `${rankedBy(of)} by ${by.join(', ')}`;
}

/** What a ranking ranks by, in a few words: `events`, `sum of amount`. */
export function rankedBy({ measure, of = '' }: Pick<RankingDocument, 'measure' | 'of'>): string {
  return measure === 'sum' ? `sum of ${of}` : measure;
}
