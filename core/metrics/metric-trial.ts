import type { ConditionContext } from '../conditions/evaluate.ts';
import type { EventBatch } from '../events/batch.ts';
import { encode, hashBytes } from '../events/text-table.ts';
import type { CompiledMetric } from './compiled-metric.ts';
import { MetricAccumulator } from './metric-accumulator.ts';
import { mergeSeen, newSeenValues, type SeenRecords, type SeenValues, seeValue } from './seen-values.ts';

/** What a metric would be made of, by some taped events. Plain data, but for the take. */
export interface MetricTrial extends SeenRecords {
  readonly accumulator: MetricAccumulator;
  /** Taped records that it is about, and the events that they stand for. */
  records: number;
  events: number;
  /** Of them those of the first half of the time. */
  earlyRecords: number;
  earlyEvents: number;
  /** The combinations of its keys, and the values of each key. */
  readonly combinations: SeenValues;
  readonly keys: readonly SeenValues[];
  /** By key: the combinations of the others. */
  readonly without: readonly SeenValues[];
  /** By key: values of it with the events that have them. */
  readonly values: readonly Map<string, number>[];
}

/** Values of a key that are gathered for people to look at. */
const mostValues = 1_000;

/** A trial that has seen nothing; it is shown by steps of `every` milliseconds. */
export function newMetricTrial(metric: CompiledMetric, every: number): MetricTrial {
  return {
    accumulator: new MetricAccumulator(metric, every),
    records: 0,
    events: 0,
    earlyRecords: 0,
    earlyEvents: 0,
    combinations: newSeenValues(),
    keys: metric.keys.map(newSeenValues),
    without: metric.keys.map(newSeenValues),
    values: metric.keys.map(() => new Map()),
  };
}

/**
 * Adds events of the tape, after their pipelines; each row is a taped record with the weight that it stands for. The first
 * half of the time ends at `half` (milliseconds).
 */
export function tryMetric(trial: MetricTrial, batch: EventBatch, context: ConditionContext, half: number): void {
  const added = trial.accumulator.add(batch, context);
  if (!added) return;
  const { rows, groups, cells, events } = added;
  trial.records += rows.length;
  const records = new Float64Array(cells.length);
  for (const group of groups) records[group] = (records[group] as number) + 1;
  cells.forEach(({ start, labels }, group) => {
    const isEarly = start < half;
    const [count, weight] = [records[group] as number, events[group] as number];
    trial.events += weight;
    if (isEarly) {
      trial.earlyRecords += count;
      trial.earlyEvents += weight;
    }
    seeValue(trial.combinations, hashOf(JSON.stringify(labels)), count, isEarly);
    labels.forEach((value, i) => {
      seeValue(trial.keys[i] as SeenValues, hashOf(String(value)), count, isEarly);
      const others = JSON.stringify(labels.filter((_, k) => k !== i));
      seeValue(trial.without[i] as SeenValues, hashOf(others), count, isEarly);
      const known = trial.values[i] as Map<string, number>;
      if (typeof value === 'string' && (known.has(value) || known.size < mostValues))
        known.set(value, (known.get(value) ?? 0) + weight);
    });
  });
}

/** Adds what was found in other events. */
export function mergeTrials(trial: MetricTrial, other: Omit<MetricTrial, 'accumulator'>): void {
  trial.records += other.records;
  trial.events += other.events;
  trial.earlyRecords += other.earlyRecords;
  trial.earlyEvents += other.earlyEvents;
  mergeSeen(trial.combinations, other.combinations);
  for (const [i, seen] of other.keys.entries()) mergeSeen(trial.keys[i] as SeenValues, seen);
  for (const [i, seen] of other.without.entries()) mergeSeen(trial.without[i] as SeenValues, seen);
  other.values.forEach((values, i) => {
    const known = trial.values[i] as Map<string, number>;
    for (const [value, count] of values) known.set(value, (known.get(value) ?? 0) + count);
  });
}

function hashOf(text: string): number {
  const bytes = encode(text);
  return hashBytes(bytes, 0, bytes.length);
}
