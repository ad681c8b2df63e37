import type { EventRecord } from '../events/batch.ts';
import type { CatalogueField } from '../fields/catalogue.ts';
import type { FieldUse } from '../plan/field-uses.ts';
import type { FieldSummary } from '../search/field-summary.ts';
import type { SummaryTable } from '../search/summary-table.ts';
import type { VolumeSum } from '../views/volumes.ts';

/** How far a search has come. */
export interface SearchProgress {
  readonly segments: number;
  readonly segmentsRead: number;
  readonly scanned: number;
  readonly total: number;
  readonly histogram: SearchHistogram;
  /** The newest events, once they are certain. */
  readonly events?: readonly EventRecord[];
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
  readonly events: readonly EventRecord[];
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

/** With a refusal of a search: what is wrong with the condition or the summary, and where. */
export interface SearchProblem {
  readonly in: 'condition' | 'summary';
  readonly message: string;
  readonly start: number;
  readonly end: number;
  readonly suggestion?: string;
}

/** `GET /api/catalogue` */
export interface CatalogueAnswer {
  readonly events: number;
  readonly fields: readonly CatalogueField[];
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
