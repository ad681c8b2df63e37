import type { ColumnUnit } from '../summaries/summary-table.ts';
import type { FieldValue } from '../why/causes.ts';
import type { Form } from '../why/onset.ts';
import type { Period } from '../why/periods.ts';

/** Events that account for a part of a change. Figures are of times of equal length. */
export interface WhyRow {
  readonly where: readonly FieldValue[];
  /** What picks them, with the condition that was asked about. */
  readonly condition: string;
  /** Their own figure before and since; null where there were none. */
  readonly before: number | null;
  readonly since: number | null;
  /** How many times what it was; null where that was nothing. */
  readonly ratio: number | null;
  /** The part of the change that would not be, were they as before; below 0 where they go against it. */
  readonly share: number;
  /** Half of the 95 % band of the share. */
  readonly band: number;
  /** What the whole figure would be, were they as before. */
  readonly without: number;
  /** Values that nearly all of them have and few others. */
  readonly also: readonly FieldValue[];
}

/** Something else that changed at about the same time. */
export interface WhyBeside {
  /** In milliseconds. */
  readonly at: number;
  readonly text: string;
  /** Where it is seen: an address within the application. */
  readonly shows: string;
}

/** `POST /api/why`. Times in milliseconds. */
export interface WhyAnswer {
  /**
   * `values`: the rows account for it. `spread`: no few values do. `usual`: it is within what is usual. `nothing`: there are no events
   * at one of the times.
   */
  readonly verdict: 'values' | 'spread' | 'usual' | 'nothing';
  /** When it began; absent where nothing changed at some time. */
  readonly began?: number;
  /** When it was as before again; absent where it goes on. */
  readonly ended?: number;
  /** How it changed; `chosen` where both times were. */
  readonly form: Form | 'chosen' | 'none';
  /** In what the figure is measured; `share` from 0 to 1. */
  readonly unit: ColumnUnit | 'share';
  /** What is compared: the time since, and as long times before. */
  readonly times: { readonly since: Period; readonly before: readonly Period[] };
  /** The figure before, as the median of the times before, and since; null where there were no events. */
  readonly before: number | null;
  readonly since: number | null;
  readonly rows: readonly WhyRow[];
  /** The part of the change that the rows leave. */
  readonly rest: number;
  /** Where no few values account for it: how many values of which field it takes for most of it. */
  readonly needed?: { readonly field: string; readonly values: number };
  /** The figure over time, in stretches of equal width; null where there were no events; and what was to be expected, where that is known. */
  readonly series: {
    readonly start: number;
    readonly width: number;
    readonly figures: readonly (number | null)[];
    readonly expected?: readonly number[];
  };
  /** Tiers that hold matching events and do not reach back far enough to be compared. */
  readonly tiersLeftOut: readonly string[];
  readonly lookedAt: {
    readonly fields: number;
    readonly values: number;
    readonly pairs: number;
    /** Events that were looked at for it, and those of both times. */
    readonly events: number;
    readonly of: number;
  };
  readonly around: readonly WhyBeside[];
  readonly tookMs: number;
}
