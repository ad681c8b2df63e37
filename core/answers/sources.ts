import type { FileProgress, ObjectProgress } from '../consumers/progress.ts';
import type { JoinRule } from '../formats/join.ts';
import type { HeardHour } from '../health/heard.ts';
import type { Health } from '../health/state.ts';
import type { FollowedView, GroupView } from '../health/views.ts';
import type { MaskRule } from '../masks/mask.ts';
import type { Amount, VolumeSum } from '../routing/volume-sums.ts';

/** What a source is set to beyond its name and kind. */
export interface SourceSettings {
  /** Values that are masked before anything is kept. */
  readonly masks?: readonly MaskRule[] | undefined;
  /** For followed files: which, and how lines are joined. */
  readonly globs?: readonly string[] | undefined;
  readonly join?: JoinRule | undefined;
  /** For picked-up objects: the address that lists them, and the template that takes labels out of their names. */
  readonly url?: string | undefined;
  readonly path?: string | undefined;
  /** It will not come back. */
  readonly retired?: boolean | undefined;
  /** When it is expected back (milliseconds). */
  readonly expectedBack?: number | undefined;
  /** Whether it is part of the demo data, and removed with it. */
  readonly demo?: boolean | undefined;
}

/** A source as it is set up. Times in milliseconds. */
export interface SourceFacts {
  readonly name: string;
  readonly kind: string;
  readonly format: string;
  readonly owner: string;
  readonly labels: Readonly<Record<string, string>>;
  /** For syslog: a condition over header fields that says which messages are this source's. */
  readonly accepts: string;
  readonly settings: SourceSettings;
  readonly createdAt: number;
}

/** A source with what it sends and how it is. */
export interface SourceView extends SourceFacts {
  readonly eventsPerSecond: number;
  readonly bytesPerSecond: number;
  /** What is typical for this hour of the week; null where nothing is known. */
  readonly typicalPerSecond: number | null;
  /** What it sent in the last day. */
  readonly day: Amount;
  readonly parsedShare: number;
  readonly lastSeen: number | null;
  readonly firstSeen: number | null;
  readonly health: Health | null;
  readonly emitters: { readonly all: number; readonly silent: number; readonly late: number; readonly fresh: number };
  /** Events by the hour, of the last 23 whole hours. */
  readonly spark: readonly number[];
}

/** A named group of sources, by a condition over their labels. */
export interface FleetView {
  readonly name: string;
  readonly condition: string;
}

/** `GET /api/sources` */
export interface SourcesAnswer {
  readonly at: number;
  readonly fleets: readonly FleetView[];
  readonly groups: readonly GroupView[];
  readonly leftOut: number;
  readonly sources: readonly SourceView[];
  /** Folders below which sources may have files read, as whole paths. */
  readonly folders: readonly string[];
}

/** A change in what a source sends. */
export interface DriftView {
  readonly id: number;
  readonly source: string;
  readonly kind: string;
  readonly subject: string;
  readonly text: string;
  /** A condition that shows it. */
  readonly shows: string;
  readonly since: number;
  readonly noticedAt: number;
}

/** `GET /api/sources/{name}` */
export interface SourceAnswer {
  readonly source: SourceFacts;
  readonly tokens: readonly {
    readonly id: number;
    /** Its last four characters. */
    readonly hint: string;
    readonly createdAt: number;
    readonly backfill: boolean;
    readonly expiresAt: number | null;
  }[];
  /** A week by the hour, by parsed, outcome and tier. */
  readonly hours: readonly VolumeSum[];
  /** The last 24 hours by parsed, outcome and tier. */
  readonly day: readonly VolumeSum[];
  /** What is kept of all sources, in the last 24 hours. */
  readonly keptOfAll: Amount;
  readonly health: readonly FollowedView[];
  readonly groups: readonly GroupView[];
  readonly drifts: readonly DriftView[];
  readonly positions: readonly Pick<FileProgress, 'path' | 'offset' | 'changedAt' | 'note'>[];
  readonly objects: readonly Omit<ObjectProgress, 'source'>[];
  readonly intakePort: number;
  readonly syslogPort: number;
  readonly syslogTlsPort: number;
}

/** A file that a source could follow. */
export interface FoundFile {
  readonly path: string;
  /** In bytes. */
  readonly size: number;
  /** When it was last written, in milliseconds. */
  readonly changedAt: number;
  /** Its last whole line; empty where it has none, or is packed. */
  readonly lastLine: string;
}

/** `GET /api/files` */
export interface FilesAnswer {
  /** The newest first. */
  readonly files: readonly FoundFile[];
  /** How many files more there are. */
  readonly more: number;
  /** The last lines of the newest file that can be read as text, in their order. */
  readonly lines: readonly string[];
}

/** `GET /api/tape` */
export interface TapeAnswer {
  readonly lines: readonly {
    readonly received: number;
    readonly weight: number;
    readonly format: string;
    readonly raw: string;
  }[];
}

/** What a source (empty name) or an emitter sent in a window. */
export interface RateView {
  readonly source: string;
  readonly name: string;
  readonly events: number;
  readonly bytes: number;
  readonly eventsPerSecond: number;
  readonly bytesPerSecond: number;
}

/** What was sent in a window (milliseconds) of whole stretches, of which the last one ends with the time of asking. */
export interface RatesView {
  readonly from: number;
  readonly to: number;
  /** Bytes of all sources in it. */
  readonly bytes: number;
  readonly rows: readonly RateView[];
}

/**
 * `GET /api/emitters`: what sources and emitters sent in a window. Sources are counted by the minute, those of before yesterday by the
 * hour; emitters always by the hour, so their window may begin earlier.
 */
export interface EmittersAnswer {
  readonly sources: RatesView;
  readonly emitters: RatesView;
}

/** An announced absence. */
export interface MaintenanceView {
  readonly id: number;
  readonly title: string;
  readonly scope: string;
  readonly from: number;
  readonly to: number | null;
  readonly schedule: string;
  readonly length: number;
}

/** `GET /api/maintenance` */
export interface MaintenanceAnswer {
  readonly windows: readonly MaintenanceView[];
}

/** `GET /api/fleets` */
export interface FleetsAnswer {
  readonly fleets: readonly { readonly name: string; readonly condition: string }[];
}

/** `GET /api/sources/{name}/heard` */
export interface HeardAnswer {
  readonly hours: readonly HeardHour[];
}

/** `GET /api/drift` */
export interface DriftsAnswer {
  readonly drifts: readonly DriftView[];
}
