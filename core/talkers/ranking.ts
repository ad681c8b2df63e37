import { type Condition, conditionOf } from '../conditions/condition.ts';
import type { RankingDocument } from '../plan/document.ts';

/** Rankings that are kept whatever the plan says. */
export const readyRankings: readonly RankingDocument[] = [
  { id: 'sources', title: 'Sources', when: '', by: ['source'], amount: 'bytes' },
  { id: 'emitters', title: 'Emitters', when: '', by: ['emitter', 'source'], amount: 'events' },
  { id: 'shapes', title: 'Shapes', when: '', by: ['shape', 'source'], amount: 'events' },
  { id: 'clients', title: 'Clients', when: 'has client', by: ['client'], amount: 'events' },
];

/** A ranking ready to take events in. */
export interface CompiledRanking {
  readonly id: string;
  /** What it counts, by which sketches that belong together are told apart ({@link countsOf}). */
  readonly counts: string;
  readonly when: Condition;
  readonly amount: RankingDocument['amount'];
  /** The field that is summed; empty where none is. */
  readonly of: string;
  readonly by: readonly string[];
}

/** Compiles a ranking that has been checked. */
export function compileRanking(ranking: RankingDocument): CompiledRanking {
  const { id, when, amount, of = '', by } = ranking;
  return { id, counts: countsOf(ranking), when: conditionOf(when), amount, of, by };
}

/** What a ranking counts, whichever events it is of: rankings of which this differs cannot be put together. */
export function countsOf({ amount, of, by }: Pick<RankingDocument, 'amount' | 'of' | 'by'>): string {
  return JSON.stringify([amount, of ?? '', ...by]);
}

/** What a ranking is by, in a few words: `bytes by source`. */
export function describeRanking({ amount, of, by }: Pick<RankingDocument, 'amount' | 'of' | 'by'>): string {
  return `${amount === 'sum' ? `sum of ${of ?? ''}` : amount} by ${by.join(', ')}`;
}
