import { compileCondition } from '../conditions/condition.ts';

/** A place in the plan that makes or reads a field. */
export interface FieldUse {
  readonly field: string;
  /** Where, as the plan names it: `payments/2`, or `tier/exclusion`. */
  readonly at: string;
  readonly title: string;
  readonly pipeline?: string;
  readonly step?: number;
}

/** The places that make fields, and those that read some, in the order of the plan. */
export interface FieldUses {
  readonly makers: readonly FieldUse[];
  readonly readers: readonly FieldUse[];
}

/** All of several uses, in their order. */
export function joinUses(uses: readonly FieldUses[]): FieldUses {
  return { makers: uses.flatMap(({ makers }) => makers), readers: uses.flatMap(({ readers }) => readers) };
}

/** A place that makes or reads fields. */
export type FieldPlace = Omit<FieldUse, 'field'>;

/** The fields that a condition reads at a place; none where it is wrong. */
export function readByCondition(condition: string, place: FieldPlace): readonly FieldUse[] {
  const compiled = compileCondition(condition);
  return compiled.ok ? usesOf(compiled.condition.attributes, place) : [];
}

/** Uses of some fields at one place. */
export function usesOf(fields: readonly string[], place: FieldPlace): readonly FieldUse[] {
  return fields.map((field) => ({ field, ...place }));
}
