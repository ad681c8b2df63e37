import type { Watched } from '../arrivals/watched.ts';
import type { FormatChoice } from '../formats/index.ts';
import type { ReadResult } from '../formats/read.ts';
import type { Records } from '../formats/records.ts';
import type { StepMeasures } from '../pipelines/step-measures.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import type { Allowances } from '../routing/allowances.ts';
import type { Ledger } from '../routing/ledger.ts';
import type { RoutedBatch } from '../routing/route.ts';
import type { NewShape } from '../shapes/shaper.ts';
import type { ReadProgress } from './progress.ts';

/**
 * Something that is made of every event that arrives: one file a kind. It sees everything, whatever becomes of it, and its
 * effect is written in the transaction that acknowledges the events, so it counts each of them exactly once.
 */
export interface Consumer<Effect> {
  /** Begins with a group of deliveries. */
  begin(plan: CompiledPlan, group: GroupContext): Accumulator<Effect>;
  /** The bytes in an effect, which are handed over to another thread rather than copied; absent: none. */
  bytesOf?(effect: Effect): readonly Uint8Array[];
}

/** What a consumer makes of one group. */
export interface Accumulator<Effect> {
  add(delivery: RoutedDelivery): void;
  /** What has to be written: plain, mergeable data; undefined where there is nothing. Asked for once, after all deliveries. */
  effect(): Effect | undefined;
}

/** What the consumers of a group share. */
export interface GroupContext {
  /** When the group is processed, in milliseconds. */
  readonly now: number;
  /** The revision of the plan that it runs under. */
  readonly revision: number;
  /** Whether this group is looked at closely: traits are gathered and profiles taken. */
  readonly profiled: boolean;
  /** Packs bytes (raw deflate, RFC 1951), fast rather than small. */
  readonly deflate: (bytes: Uint8Array) => Uint8Array;
  /** The group's book: what becomes of its events. Whatever takes room in the store books its bytes. */
  readonly ledger: Ledger;
  /** What the steps of the plan did to the live events of the group. */
  readonly steps: StepMeasures;
  /** The kinds of lines that the group brings and nobody has decided about. */
  readonly newShapes: () => readonly NewShape[];
  /** The id under which a shape goes now; absent: shapes go under the ids that they have. */
  readonly currentShape?: (id: string) => string;
  /** What tiers with caps may take; absent where none has one. */
  readonly allowances?: Allowances | undefined;
  /** Who watches arrivals; absent where nobody does. */
  readonly watched?: Watched | undefined;
  /** Who else is to get the events, by spools of their own. */
  readonly followers: readonly FollowerChoice[];
}

/** A follower as consumers know it: its name and which events are for it (a condition; empty: all). */
export interface FollowerChoice {
  readonly name: string;
  readonly when: string;
}

/** What consumers get to know of a delivery as it arrived. */
export interface ArrivedDelivery {
  readonly source: string;
  readonly format: FormatChoice;
  /** Whether it brings in history, which says nothing about what is sent now. */
  readonly backfill: boolean;
  /** Of every so many records one goes on the tape. */
  readonly tapeEvery: number;
  readonly fleets?: readonly string[];
  /** When its source was last asked to be read again (milliseconds): what happened before was counted then. */
  readonly rewoundAt?: number;
  /** Under which the delivery is stored once, however often it comes. */
  readonly key?: string;
  /** How far it takes the reader of a file or an object. */
  readonly progress?: ReadProgress;
}

/** A delivery after its way through the plan. */
export interface RoutedDelivery {
  readonly delivery: ArrivedDelivery;
  /** The events as they were read, before any pipeline, and what could not be read. */
  readonly read: ReadResult;
  /** The raw records; undefined for deliveries that are no lines, or whose lines say less than their events. */
  readonly records: Records | undefined;
  /** The events after their pipelines, what became of each, and which tier stores it. */
  readonly routed: RoutedBatch;
}
