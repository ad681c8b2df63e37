import type { Schema } from 'yup';
import type { Mask } from '../conditions/mask.ts';
import type { EventBatch } from '../events/batch.ts';
import type { HashText } from '../masks/keyed-hash.ts';
import type { Place } from '../places/place.ts';
import type { LookupTable } from '../tables/table.ts';

/** The events that a step could not handle: `codes[row]` is 0 where all went well, else 1 + an index into `reasons`. */
export interface Failures {
  readonly codes: Uint16Array;
  readonly reasons: readonly string[];
}

/** What a step made of a batch. Batches are never changed: a step returns one that shares what it left alone. */
export interface StepResult {
  readonly batch: EventBatch;
  readonly failures?: Failures;
  /**
   * Present when the step changed which rows there are (it split events or joined lines): for each row of the new batch
   * the row of the old one that it came from. `failures` are of the new rows.
   */
  readonly origin?: Int32Array;
}

/** Applies a step to the rows whose mask entry is 1; the other rows stay as they are. */
export type StepFunction = (batch: EventBatch, rows: Mask) => StepResult;

/** What steps look up beyond the event itself; it changes while a plan stays the same. */
export interface StepResources {
  /** A table by its name; undefined when there is none. */
  readonly table: (name: string) => LookupTable | undefined;
  /** Where an IP address is registered; undefined when that is not known. */
  readonly place: (address: string) => Place | undefined;
  /** What masked values are hashed with; absent where the key of the installation is not at hand. */
  readonly hash?: HashText;
}

/** Neither tables nor places. */
export const noResources: StepResources = { table: () => undefined, place: () => undefined };

/** Steps inside a step, and which of its events enter them. */
export interface StepBranch {
  /** Where the steps stand below the options: `branches[0].steps`. */
  readonly path: string;
  /** The condition for entering; absent for the branch that takes all others. */
  readonly when?: string;
  readonly steps: readonly Readonly<Record<string, unknown>>[];
}

/** A kind of step. `Options` is what a plan says about one step of this kind. */
export interface StepKind<Options extends object = object> {
  readonly kind: string;
  readonly title: string;
  /** One paragraph: what it does and when to use it. */
  readonly help: string;
  readonly schema: Schema<Options>;
  /** Problems that the schema cannot see, as path below the step's options and a sentence. */
  readonly check?: (options: Options) => readonly StepProblem[];
  /** The step in a few words, for lists and changes. */
  readonly describe: (options: Options) => string;
  /** Attributes that the step gives events; those whose names come from the events are not among them. */
  readonly makes: (options: Options) => readonly string[];
  /** Attributes (or `body`, `emitter`) that the step looks at. */
  readonly reads: (options: Options) => readonly string[];
  /** Attributes that it takes out without looking at them; `others`: all that it does not name. Absent: none. */
  readonly takesOut?: (options: Options) => readonly string[] | 'others';
  /** A line, options and the fields that come out: shown beside the help, and checked by the tests. */
  readonly example: StepExample<Options>;
  readonly compile: (options: Options, resources: StepResources) => StepFunction;
  /** Whether its result for an event depends on the events that arrive together with it. Absent: it does not. */
  readonly dependsOnNeighbours?: true;
  /** For a kind that holds steps of its own: an event passes the first branch that it fits. `compile` is not used then. */
  readonly branches?: (options: Options) => readonly StepBranch[];
}

/** Test data of a step kind. */
export interface StepExample<Options> {
  readonly options: Options;
  /** A record as it arrives. */
  readonly input: string;
  /** Fields afterwards; null for a field that is gone. `body`, `severity` (word) and `time` (ISO) count as fields. */
  readonly expect: Readonly<Record<string, string | number | boolean | null>>;
}

export interface StepProblem {
  readonly path: string;
  readonly message: string;
}

/** Collects the failures of one run. */
export class FailureCollector {
  private codes: Uint16Array | undefined;
  private readonly reasons: string[] = [];

  constructor(private readonly rows: number) {}

  /** Records that a row failed. At most 65,535 different reasons are told apart. */
  add(row: number, reason: string): void {
    this.codes ??= new Uint16Array(this.rows);
    let index = this.reasons.indexOf(reason);
    if (index < 0) index = this.reasons.length < 0xffff ? this.reasons.push(reason) - 1 : 0;
    this.codes[row] = index + 1;
  }

  /** The chosen rows without those that failed. */
  passed(rows: Mask): Mask {
    const { codes } = this;
    return codes ? rows.map((chosen, row) => (codes[row] === 0 ? chosen : 0)) : rows;
  }

  get failures(): Failures | undefined {
    return this.codes && { codes: this.codes, reasons: this.reasons };
  }
}

/** The result of a step: the batch, and the failures where there are any. */
export function stepResult(batch: EventBatch, collector: FailureCollector): StepResult {
  const { failures } = collector;
  return failures ? { batch, failures } : { batch };
}
