import type { Currency } from '../costs/book/price-book.ts';
import type { CatalogueField } from '../fields/catalogue.ts';
import type { FieldUse } from '../plan/field-use.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';
import type { EventOrigin } from '../search/event-origin.ts';
import type { FieldSummary } from '../search/field-summary.ts';
import type { FoundEvent } from '../search/found-event.ts';
import type { WhyEmpty } from '../search/why-empty.ts';
import type { SummaryTable } from '../summaries/summary-table.ts';

/** How far a search has come. */
export interface SearchProgress {
  readonly segments: number;
  readonly segmentsRead: number;
  readonly scanned: number;
  readonly total: number;
  readonly histogram: SearchHistogram;
  /** The newest events, once they are certain. */
  readonly events?: readonly FoundEvent[];
}

/** Found events over time, in buckets of equal width; the first and the last may reach beyond the window. Milliseconds. */
export interface SearchHistogram {
  readonly start: number;
  readonly width: number;
  /** Per bucket the counts by severity class: unset, trace, debug, info, warn, error, fatal. */
  readonly counts: readonly (readonly number[])[];
}

/** What is stored of a window. */
export interface StoredInWindow {
  readonly segments: number;
  /** All events of these segments, as they are stored; of the first and the last some may lie outside of the window. */
  readonly events: number;
  /** Where there is nothing: when the last event that is stored before the window happened (milliseconds), if there is one. */
  readonly lastBefore?: number;
}

/** `POST /api/search`. Times in milliseconds. */
export interface SearchAnswer {
  readonly total: number;
  /** Whether some of the found events stand for several, so that counts are estimates. */
  readonly estimated: boolean;
  /** The newest, the newest first; where the oldest are asked for, these and the other way round. */
  readonly events: readonly FoundEvent[];
  readonly histogram: SearchHistogram;
  /** What the newest of the found events have in common. */
  readonly fields: readonly FieldSummary[];
  /** How many events, weights counted, `fields` are of. */
  readonly fieldsOf: number;
  readonly summary?: SummaryTable;
  /** What is probably not meant so. */
  readonly doubts: readonly SearchDoubt[];
  readonly scanned: number;
  /** What is stored of the window, whatever the condition. */
  readonly stored: StoredInWindow;
  /** Those of the segments that may hold what was searched for. */
  readonly segments: number;
  /** Those of them that were not read, since the search took too long. */
  readonly unread: number;
  readonly tookMs: number;
}

/** What of a search is valid and can hardly be meant as it stands: names that nothing has, units that do not exist. */
export type SearchDoubt = SearchProblem;

/** With a refusal of a search: what is wrong with the condition, the summary, the template (`with`) or the measure of a change, and where. */
export interface SearchProblem {
  readonly in: 'condition' | 'summary' | 'with' | 'measure';
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
}

/** `POST /api/search/why` */
export interface WhyEmptyAnswer extends WhyEmpty {
  /** When the last event that fits happened before the window, in milliseconds; absent where there is none that is stored. */
  readonly lastFound?: number;
  /** Whether everything was looked through for it. */
  readonly isLookedThrough: boolean;
}

/** `GET /api/events/{id}` */
export interface EventAnswer {
  readonly event: FoundEvent;
  /** The revision that was live when it arrived; 0: none yet. */
  readonly revision: number;
  readonly origin: EventOrigin;
}

/** A search that someone saved. */
export interface SavedSearchView {
  /** Conditions refer to it as `saved:name`. */
  readonly name: string;
  readonly condition: string;
  /** The window as it was written, such as `-2h`. */
  readonly window: string;
  /** A summary such as `count() by source`; empty where lines are shown. */
  readonly summary: string;
  readonly owner: string;
  readonly note: string;
  /** Grows with each change. */
  readonly version: number;
  readonly changedAt: number;
}

/** `GET /api/searches` */
export interface SavedSearchesAnswer {
  readonly searches: readonly SavedSearchView[];
}

/** With a refusal of `PUT /api/searches`: another one changed it meanwhile. */
export interface SavedSearchChanged {
  /** As it is now; null: it is not saved any more. */
  readonly saved: SavedSearchView | null;
}

/** `GET /api/names` */
export interface NamesAnswer {
  readonly sources: readonly string[];
  readonly tiers: readonly string[];
  readonly fleets: readonly string[];
  /** Searches by the name under which they are saved, with their conditions. */
  readonly saved: Readonly<Record<string, string>>;
  /** Those that stored events of the last week have, those that steps make or read, and those that every event has; null where they are not known. */
  readonly fields: readonly string[] | null;
}

/** A field, and the coins that receiving and storing its part of 30 such days costs; 0 where nothing has a price. */
export interface PricedField extends CatalogueField {
  readonly coins: number;
}

/** `GET /api/catalogue` */
export interface CatalogueAnswer {
  /** Null where nothing has a price. */
  readonly currency: Currency | null;
  readonly events: number;
  readonly fields: readonly PricedField[];
  readonly makers: readonly FieldUse[];
  readonly readers: readonly FieldUse[];
  readonly leftOut: number;
  /** Whether it is of the draft. */
  readonly draft: boolean;
}

/** `GET /api/volume` */
export interface VolumeAnswer {
  readonly from: number;
  readonly to: number;
  readonly sums: readonly VolumeSum[];
}

/** `GET /api/quarantine` */
export interface QuarantineAnswer {
  readonly deliveries: readonly {
    readonly id: number;
    readonly source: string;
    readonly reason: string;
    readonly records: number;
    readonly bytes: number;
    readonly at: number;
  }[];
}

/** `GET /api/audit` */
export interface AuditAnswer {
  readonly changes: readonly {
    readonly id: number;
    readonly at: number;
    readonly who: string;
    readonly command: string;
    readonly subject: string;
    readonly input: unknown;
  }[];
}
