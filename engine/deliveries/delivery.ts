import type { ReadProgress } from '#core/consumers/progress.ts';
import type { RecordProblem } from '#core/formats/format.ts';
import type { FormatChoice } from '#core/formats/index.ts';
import type { JoinRule } from '#core/formats/join.ts';
import type { MaskRule } from '#core/masks/mask.ts';

/** How the bytes of a delivery are made up; `lines` may also be one JSON array. */
export type DeliveryShape = 'lines' | 'messages' | 'otlp-json' | 'otlp-protobuf';

/** Some records of one source that arrived together. Plain data: it is sent to a worker. */
export interface Delivery {
  readonly source: string;
  readonly shape: DeliveryShape;
  readonly format: FormatChoice;
  readonly gzip: boolean;
  /** For a packed one: up to how many bytes it is unpacked; absent: as many as a delivery may have. */
  readonly mostUnpacked?: number;
  /** The received bytes; for `messages` several, one each. */
  readonly chunks: readonly Uint8Array[];
  readonly received: number;
  readonly backfill: boolean;
  /** Under which the delivery is stored once, however often it comes. */
  readonly key?: string;
  /** Of every so many records one goes on the tape. */
  readonly tapeEvery: number;
  /** What is masked before anything is kept. */
  readonly masks?: readonly MaskRule[];
  /** How lines are joined into records. */
  readonly join?: JoinRule;
  /** Fields that every event gets, such as labels taken from the name of a picked-up object. */
  readonly labels?: Readonly<Record<string, string>>;
  /** For lines of separated values: the columns, as the step `parse-csv` takes them. */
  readonly columns?: readonly string[];
  /** The fleets that its source belongs to. */
  readonly fleets?: readonly string[];
  /** Events from before this time (milliseconds) are passed over: the source was rewound to it. */
  readonly notBefore?: number;
  /** When its source was last asked to be read again (milliseconds): what happened before was counted by metrics then. */
  readonly rewoundAt?: number;
  /** Whether its sender can be answered that a tier takes no more today; else what is over passes. */
  readonly refusable?: boolean;
  /** How far the delivery takes the reader of a file or an object; committed with its events. */
  readonly progress?: ReadProgress;
}

/** What became of a delivery. */
export type DeliveryAnswer =
  | {
      readonly kind: 'stored';
      /** Whether it was stored before, and so was not stored again. */
      readonly isKnown?: true;
      readonly accepted: number;
      readonly rejected: number;
      readonly problems: readonly RecordProblem[];
      /** What was done to keep events that were out of the ordinary, in sentences. */
      readonly notes: readonly string[];
    }
  | { readonly kind: 'refused'; readonly status: 400 | 413; readonly message: string }
  /** It holds events past a cap that refuses: nothing of it was kept; the day ends at `until` (milliseconds). */
  | { readonly kind: 'capped'; readonly tier: string; readonly until: number }
  /** It unpacks to more than `mostUnpacked`: nothing was done with it. */
  | { readonly kind: 'larger' }
  /** Another engine reads the source now: nothing was done with it. */
  | { readonly kind: 'superseded' };
