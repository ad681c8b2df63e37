import { eventAt } from '../events/batch.ts';
import type { AttributeValue } from '../events/columns.ts';
import type { Fate } from '../routing/fate.ts';
import type { Outcome } from '../routing/ledger.ts';
import type { RoutedBatch } from '../routing/route.ts';

/** Where one plan sends an event, and the fields whose values the other plan lacks. */
export interface EventSide {
  readonly outcome: Outcome;
  readonly tier: string;
  readonly rule: string;
  readonly fields: Readonly<Record<string, AttributeValue>>;
}

/** An example event that the draft treats differently. `time` in milliseconds. */
export interface ChangedEvent {
  readonly time: number;
  readonly source: string;
  readonly body: string;
  readonly live: EventSide;
  readonly draft: EventSide;
}

/** Examples by kind of change. Plain data. */
export type ChangedEvents = Map<string, ChangedEvent[]>;

/** The most examples of a change, and the most changes. */
const mostAlike = 2;
const mostChanges = 12;
/** The number of rows of a batch whose fields are compared, because comparing is slow. */
const comparedRows = 4;
/** The longest texts, in characters, and the most fields of an event. */
const longestText = 300;
const mostFields = 12;

/** Adds example events that the two plans treat differently. If the plans split or join events differently, it adds none. */
export function addChangedEvents(
  changed: ChangedEvents,
  live: RoutedBatch,
  draft: RoutedBatch,
  comparesFields: boolean,
): void {
  const { rows, source } = live.arrived;
  if (rows !== draft.arrived.rows) return;
  // A batch has few different pairs of fates.
  const kinds = new Map<number, string | undefined>();
  let compared = 0;
  for (let row = 0; row < rows; row++) {
    const [from, to] = [live.fateOf[row] as number, draft.fateOf[row] as number];
    const pair = from * draft.fates.length + to;
    if (!kinds.has(pair)) kinds.set(pair, kindOf(source, live.fates[from] as Fate, draft.fates[to] as Fate));
    const kind = kinds.get(pair);
    if (kind === undefined ? !comparesFields || compared >= comparedRows : isFull(changed, kind)) continue;
    compared++;
    const [fields, newFields] = comparesFields ? differences(live, draft, row) : [{}, {}];
    const names = Object.keys({ ...fields, ...newFields });
    if (kind === undefined && names.length === 0) continue;
    add(changed, kind ?? JSON.stringify([source, ...names.sort()]), {
      ...{ time: live.arrived.time[row] as number, source, body: bodyAt(live, row) },
      live: sideOf(live.fates[from] as Fate, fields),
      draft: sideOf(draft.fates[to] as Fate, newFields),
    });
  }
}

/** Identifies a change from one fate to another; undefined if they are alike. Kept events are alike whatever rule kept them. */
function kindOf(source: string, a: Fate, b: Fate): string | undefined {
  const isAlike = a.outcome === b.outcome && a.tier === b.tier && (a.outcome === 'kept' || a.rule === b.rule);
  return isAlike ? undefined : JSON.stringify([source, a.outcome, a.tier, a.rule, b.outcome, b.tier, b.rule]);
}

function sideOf({ outcome, tier, rule }: Fate, fields: EventSide['fields']): EventSide {
  return { outcome, tier, rule, fields };
}

/** Adds the examples of another part of the tape. */
export function mergeChangedEvents(into: ChangedEvents, other: ChangedEvents): void {
  for (const [kind, events] of other) for (const event of events) add(into, kind, event);
}

function isFull(changed: ChangedEvents, kind: string): boolean {
  const known = changed.get(kind);
  return known ? known.length >= mostAlike : changed.size >= mostChanges;
}

function add(changed: ChangedEvents, kind: string, event: ChangedEvent): void {
  if (isFull(changed, kind)) return;
  const known = changed.get(kind);
  if (known) known.push(event);
  else changed.set(kind, [event]);
}

function bodyAt({ arrived }: RoutedBatch, row: number): string {
  const { body, attributes } = eventAt(arrived, row);
  return (body === '' ? JSON.stringify(attributes) : body).slice(0, longestText);
}

/** The fields of each plan that differ from the other's. */
function differences(
  live: RoutedBatch,
  draft: RoutedBatch,
  row: number,
): readonly [Readonly<Record<string, AttributeValue>>, Readonly<Record<string, AttributeValue>>] {
  const { attributes: before } = eventAt(live.arrived, row);
  const { attributes: after } = eventAt(draft.arrived, row);
  return [without(before, after), without(after, before)];
}

function without(
  fields: Readonly<Record<string, AttributeValue>>,
  other: Readonly<Record<string, AttributeValue>>,
): Readonly<Record<string, AttributeValue>> {
  const some = Object.entries(fields).filter(([name, value]) => other[name] !== value);
  return Object.fromEntries(
    some
      .slice(0, mostFields)
      .map(([name, value]) => [name, typeof value === 'string' ? value.slice(0, longestText) : value]),
  );
}
