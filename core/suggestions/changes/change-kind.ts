import type { ChangeSuggestion } from '../../answers/suggestions.ts';
import type { RetentionCost } from '../../costs/retention/retention-change.ts';
import type { VolumePrices } from '../../costs/volume-prices.ts';
import type { FieldShares } from '../../fields/catalogue.ts';
import type { PlanDocument } from '../../plan/document.ts';
import type { TierUsage } from '../../usage/shorter-keep.ts';
import type { KeptDay } from './kept-days.ts';

/** What is needed to suggest changes. */
export interface ChangeSetting {
  readonly plan: PlanDocument;
  /** The last full days of a tier. */
  readonly tierDaysOf: (tier: string) => readonly KeptDay[];
  readonly prices: VolumePrices;
  /** What a week of a tier costs with its retention and with another one (milliseconds); undefined if not known. */
  readonly retentionCostOf: (tier: string, keep: number) => RetentionCost | undefined;
  /** The usage of a tier. */
  readonly usageOf: (tier: string) => TierUsage & { readonly times: number };
  /** The last full days of what is kept of a source. */
  readonly sourceDaysOf: (source: string) => readonly KeptDay[];
  /** The share of each field in the bytes of its source. */
  readonly fieldShares: FieldShares;
  /** The fields that questions of the last 30 days, saved searches and the plan use, in lower case; undefined if usage is not known for a week. */
  readonly usedFields: ReadonlySet<string> | undefined;
  /** Sources that were exported in the last 30 days. */
  readonly exported: ReadonlySet<string>;
  /** In milliseconds. */
  readonly now: number;
}

/** A kind of changes that are suggested. */
export interface ChangeKind {
  readonly kind: ChangeSuggestion['edit']['kind'];
  /** All changes of this kind that save something. */
  readonly suggest: (setting: ChangeSetting) => readonly ChangeSuggestion[];
}
