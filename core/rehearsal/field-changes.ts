import { type EventBatch, failureAttribute, overflowAttribute } from '../events/batch.ts';
import { missingFlag } from '../events/columns.ts';

/** The kinds of values of a field. */
export const fieldKinds = ['text', 'number', 'flag'] as const;

export type FieldKind = (typeof fieldKinds)[number];

/** The number of events with a value of each kind. */
export type FieldCount = Record<FieldKind, number>;

/** By field. Plain data. */
export type FieldCounts = Map<string, FieldCount>;

/** A field whose number of events or kind of value differs between the plans. */
export interface FieldChange {
  readonly name: string;
  readonly live: FieldCount;
  readonly draft: FieldCount;
}

/** The most fields that are counted, and the most changes that are reported. */
const mostFields = 2_000;
const mostChanges = 50;
/** Smaller differences, as a part of all events, are ignored. */
const leastPart = 0.001;

/** Attributes set by the engine. */
const ofEngine: ReadonlySet<string> = new Set([failureAttribute, overflowAttribute]);

/** Adds the fields that the events of a batch have after its pipelines. */
export function addFields(counts: FieldCounts, { attributes, rows, weight }: EventBatch): void {
  for (const [name, columns] of attributes) {
    if (ofEngine.has(name)) continue;
    let count = counts.get(name);
    if (!count) {
      if (counts.size >= mostFields) continue;
      counts.set(name, (count = none()));
    }
    const { text, number, flag } = columns;
    for (let row = 0; row < rows; row++) {
      const events = weight[row] as number;
      if (text && (text.codes[row] as number) >= 0) count.text += events;
      else if (number && !Number.isNaN(number.values[row] as number)) count.number += events;
      else if (flag && (flag.values[row] as number) !== missingFlag) count.flag += events;
    }
  }
}

/** Adds all of other counts. */
export function mergeFields(into: FieldCounts, other: FieldCounts): void {
  for (const [name, count] of other) {
    const known = into.get(name);
    if (known) for (const kind of fieldKinds) known[kind] += count[kind];
    else if (into.size < mostFields) into.set(name, { ...count });
  }
}

/** The fields that differ, those of most events first; `events` is how many there are in all. */
export function fieldChanges(live: FieldCounts, draft: FieldCounts, events: number): readonly FieldChange[] {
  const names = [...new Set([...live.keys(), ...draft.keys()])];
  const differs = ({ live: a, draft: b }: FieldChange): number =>
    fieldKinds.reduce((sum, kind) => sum + Math.abs(a[kind] - b[kind]), 0);
  return names
    .map((name) => ({ name, live: live.get(name) ?? none(), draft: draft.get(name) ?? none() }))
    .filter((change) => differs(change) > leastPart * events)
    .sort((a, b) => differs(b) - differs(a))
    .slice(0, mostChanges);
}

function none(): FieldCount {
  return { text: 0, number: 0, flag: 0 };
}
