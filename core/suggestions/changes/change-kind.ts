import type { ChangeSuggestion } from '../../answers/suggestions.ts';
import type { RetentionCost } from '../../costs/retention/retention-change.ts';
import type { VolumePrices } from '../../costs/volume-prices.ts';
import type { PlanDocument } from '../../plan/document.ts';
import type { TierUsage } from '../../usage/shorter-keep.ts';
import type { TierDay } from './tier-days.ts';

/** What is needed to suggest changes. */
export interface ChangeSetting {
  readonly plan: PlanDocument;
  /** The last full days of a tier. */
  readonly daysOf: (tier: string) => readonly TierDay[];
  readonly prices: VolumePrices;
  /** What a week of a tier costs with its retention and with another one (milliseconds); undefined if not known. */
  readonly retentionCostOf: (tier: string, keep: number) => RetentionCost | undefined;
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
