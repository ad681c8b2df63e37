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
}

/** `POST /api/search`. Times in milliseconds. */
export interface SearchAnswer {
  readonly total: number;
  /** Whether some of the found events stand for several, so that counts are estimates. */
  readonly estimated: boolean;
  readonly events: readonly EventRecord[];
  /** Per bucket the counts by severity class. */
  readonly histogram: readonly (readonly number[])[];
  readonly fields: readonly FieldSummary[];
  readonly summary?: SummaryTable;
  readonly scanned: number;
  readonly segments: number;
  readonly tookMs: number;
}

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
