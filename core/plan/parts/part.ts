import type { PlanDocument } from '../document.ts';
import type { FieldUses } from '../field-use.ts';
import type { PlanChange } from '../plan-change.ts';
import type { PlanProblem } from '../plan-problem.ts';

/** A key of a plan that has a list of things of one kind. */
export type PartKey = Exclude<keyof PlanDocument, 'plan'>;

/** A part of a plan, and what the rest of the product needs to know of its things. */
export interface PlanPart {
  readonly key: PartKey;
  /** What one of its things is called: `pipeline`. */
  readonly noun: string;
  /** Its things, in the order of the plan. */
  readonly items: (plan: PlanDocument) => readonly PlanItem[];
  /** What is wrong beyond what the shape of a plan says. */
  readonly check: (plan: PlanDocument) => readonly PlanProblem[];
  /** What changed between two plans, in words. */
  readonly diff: (before: PlanDocument, after: PlanDocument) => readonly PlanChange[];
  /** Where a path within the part leads. */
  readonly place: (plan: PlanDocument, path: PathInPart) => PlanPlace;
  /** Fields that it makes and reads, in the order of the plan. */
  readonly fieldUses: (plan: PlanDocument) => FieldUses;
  /** What of it reads events by a condition of its own. */
  readonly readers: (plan: PlanDocument) => readonly PlanReader[];
}

/** A thing of a plan as people know it. */
export interface PlanItem {
  readonly id: string;
  readonly title: string;
}

/** A path within a part. */
export interface PathInPart {
  /** The place of a thing in the list, or its id. */
  readonly item: string;
  readonly rest: readonly string[];
  /** Whether things stand in the path by their places, counted from 0; else they stand by their ids, and steps are counted from 1. */
  readonly isCounted: boolean;
}

/** Where in a plan something is. */
export interface PlanPlace {
  /** Such as: Pipeline “Web access lines”, step 2 (extract), template. Empty for the plan as a whole. */
  readonly words: string;
  /** The thing that it is in or is; undefined where the plan has no such thing. */
  readonly item?: PlacedItem;
}

/** A thing of a plan, and what of it is meant. */
export interface PlacedItem {
  readonly part: PartKey;
  readonly id: string;
  /** A step of a pipeline, counted from 1. */
  readonly step?: number;
  /** The id of an exclusion of a tier. */
  readonly exclusion?: string;
  /** A field of the thing's form; absent where the thing as a whole is meant. */
  readonly field?: string;
}

/** Something that reads events by a condition of its own. */
export interface PlanReader {
  readonly kind: 'pipeline' | 'exclusion' | 'metric' | 'ranking';
  readonly name: string;
  readonly condition: string;
}
