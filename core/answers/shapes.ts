import type { Currency } from '../costs/book/price-book.ts';
import type { Amount, PricedAmount } from '../routing/volume-sums.ts';
import type { HoleSummary } from '../shapes/hole-values.ts';
import type { ShapePiece } from '../shapes/pieces.ts';
import type { Reader } from './routing.ts';

/** What became of a shape's events: where they went, and how many. */
export interface ShapeFate extends Amount {
  readonly outcome: string;
  /** The tier that took them; empty where none did. */
  readonly tier: string;
  /** Coins saved until they would expire if the tier did not keep them, unrounded; 0 without prices. */
  readonly saves: number;
}

/** A kind of line in a window; its coins are what its lines cost until they are gone. */
export interface ShapeView extends PricedAmount {
  readonly id: string;
  readonly pieces: readonly ShapePiece[];
  /** Its sources, the one with the most bytes first. */
  readonly sources: readonly string[];
  /** The severity that most of its events have. */
  readonly severity: string;
  /** Bytes by whole slice of the window. */
  readonly trend: readonly number[];
  /** When it was met first and last, in or out of the window (milliseconds, to the stretch of the ledger). */
  readonly firstSeen: number;
  readonly lastSeen: number;
  /** `new`: met for the first time in the last day of the window; `gone`: it came steadily and has stopped. */
  readonly change: 'new' | 'gone' | 'grown' | 'none';
  /** Where it has grown: how many times as much as before, and since when (milliseconds). */
  readonly growth?: { readonly times: number; readonly since: number };
  readonly fates: readonly ShapeFate[];
  readonly wanted: boolean;
}

/** `GET /api/shapes` */
export interface ShapesAnswer {
  readonly from: number;
  readonly to: number;
  /** Length of a slice, in milliseconds. */
  readonly every: number;
  /** Everything in the window that the condition is about. */
  readonly total: PricedAmount;
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  /** The largest by bytes. */
  readonly shapes: readonly ShapeView[];
  /** All others together. */
  readonly rest: PricedAmount & { readonly shapes: number };
  /** Whether the figures come from what was counted as events arrived; else they are of stored events alone. */
  readonly isCounted: boolean;
  /** Of figures of stored events alone: parts (of shape, source, tier, severity and time) that are too many to be listed. */
  readonly leftOut: number;
}

/** `GET /api/shapes/{id}` */
export interface ShapeAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  readonly shape: ShapeView;
  /** Days that its figures are of: those of the window, from when it was met first on. */
  readonly days: number;
  readonly holes: readonly HoleSummary[];
  /** Lines that the holes were looked at in. */
  readonly lines: number;
  /** A condition that a person can read; not exact. */
  readonly condition: string;
  /** A line template for its lines; null for events without a line. */
  readonly template: string | null;
  /** Who reads its taped events. */
  readonly readers: readonly Reader[];
}
