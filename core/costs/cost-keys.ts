import { severityWords } from '../events/severity.ts';
import type { DaySeries } from './day-series.ts';

/** What costs are split by. */
export const costKeys = ['source', 'team', 'fleet', 'tier', 'outcome', 'severity', 'shape', 'field'] as const;

export type CostKey = (typeof costKeys)[number];

/** Whether shapes and severities have to be told apart. */
export function isOfShapes(by: readonly CostKey[]): boolean {
  return by.includes('severity') || by.includes('shape');
}

/** What names go under now. */
export interface CostNames {
  /** The owner of a source; empty where it has none. */
  readonly teamOf: (source: string) => string;
  /** The fleets of a source; what belongs to several counts for all of them together. */
  readonly fleetsOf: (source: string) => readonly string[];
  /** The id under which a shape goes: another one where it was merged. */
  readonly currentShape: (id: string) => string;
}

/**
 * What a series goes under by a key; empty where it has nothing of the kind. Fields are known by source: what they share goes
 * under it first (see `splitByField`).
 */
export function costKeyOf(series: DaySeries, by: CostKey, { teamOf, fleetsOf, currentShape }: CostNames): string {
  if (by === 'team') return teamOf(series.source);
  if (by === 'fleet') return [...fleetsOf(series.source)].sort().join(', ');
  if (by === 'field') return series.source;
  if (by === 'shape') return series.shape === '' ? '' : currentShape(series.shape);
  if (by === 'severity') return severityWords[series.severity - 1] ?? '';
  return series[by];
}
