import type { ComponentType } from 'react';
import type { PartKey, PlacedItem } from '#core/plan/parts/part.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';

/** Where a part of the plan is shown and edited, and what other screens show of it. */
export interface PartScreen {
  readonly key: PartKey;
  /** The address of the page with one of its things open, by its id. */
  readonly page: (id: string) => string;
  /** The address of the page on which one of its things can be edited, with the place open that is meant. */
  readonly form: (item: PlacedItem) => string;
  /** What the result of a rehearsal shows of it. */
  readonly Rehearsed?: ComponentType<{ readonly rehearsal: RehearsalAnswer }>;
  /** What the page of a source shows of it. */
  readonly OnSource?: ComponentType<{ readonly source: string }>;
}
