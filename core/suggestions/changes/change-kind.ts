import type { ChangeSuggestion } from '../../answers/suggestions.ts';
import type { DaySeries } from '../../costs/day-series.ts';
import type { VolumePrices } from '../../costs/volume-prices.ts';
import type { PlanDocument } from '../../plan/document.ts';
import type { TierUsage } from '../../usage/shorter-keep.ts';

/** What is needed to suggest changes. */
export interface ChangeSetting {
  readonly plan: PlanDocument;
  /** Volume by day, source and tier. */
  readonly series: readonly DaySeries[];
  readonly prices: VolumePrices;
  /** The usage of a tier. */
  readonly usageOf: (tier: string) => TierUsage & { readonly times: number };
  /** In milliseconds. */
  readonly now: number;
}

/** A kind of changes that are suggested. */
export interface ChangeKind {
  readonly kind: ChangeSuggestion['edit']['kind'];
  /** All changes of this kind that save something. */
  readonly suggest: (setting: ChangeSetting) => readonly ChangeSuggestion[];
}
