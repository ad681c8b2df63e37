import type { Condition } from '../conditions/condition.ts';
import type { Aggregate } from '../summaries/summary.ts';
import type { Measure } from './measures/measure.ts';

/** A key ready to be read: what stands for a value of its field. */
export interface CompiledKey {
  /** As its labels are called: its field, or the column of its table. */
  readonly name: string;
  readonly field: string;
  /** Most values, of those that come most; undefined: all. */
  readonly top: number | undefined;
  /** What a table says of a value; absent: the value itself. */
  readonly through: ((value: string) => string | null) | undefined;
}

/** A metric ready to take events in. */
export interface CompiledMetric {
  readonly id: string;
  readonly name: string;
  readonly when: Condition;
  readonly measure: Measure;
  readonly field: string;
  readonly aggregates: readonly Aggregate[];
  readonly keys: readonly CompiledKey[];
  readonly limit: number;
  /** Its unit; empty for none. */
  readonly unit: string;
}
