import { textAt } from '../events/text-table.ts';
import type { Fate } from '../routing/fate.ts';
import type { RoutedBatch } from '../routing/route.ts';

/** What a plan does with an event: outcome, tier and rule (empty if none), and whether it was parsed. */
export type Place = readonly [outcome: string, tier: string, rule: string, parsed: boolean];

/** The place of an event that only the other plan produces, because the plans split or join events differently. */
const nowhere: Place = ['', '', '', false];

/** Whether a tier keeps the event. */
export function isKept([outcome]: Place): boolean {
  return outcome === 'kept';
}

/** Whether a plan has no such event. */
export function isNowhere([outcome]: Place): boolean {
  return outcome === '';
}

/** The number of equal time slots in a rehearsed window. Their variation gives the error of shares. */
export const slotCount = 24;

/** Volume of a source and shape that the live plan sends to one place and the draft to another or the same. Plain data. */
export interface Transition {
  readonly source: string;
  /** The shape after the live plan's pipelines; empty if none. */
  readonly shape: string;
  readonly live: Place;
  readonly draft: Place;
  /** The volume of arrivals that it represents. */
  events: number;
  bytes: number;
  /** Those bytes by slot of the window. */
  readonly slots: Float64Array;
  /** Bytes that a surge adds by slot; negative if it removes events. */
  readonly extra: Float64Array;
}

/** By source, shape and both places. */
export type Transitions = Map<string, Transition>;

/** The window that is cut into slots (milliseconds). */
export interface SlottedWindow {
  readonly from: number;
  readonly to: number;
}

/** The number of transitions after which new shapes count as having none. */
const mostTransitions = 20_000;

/** Adds a batch that both plans have routed. */
export function addTransitions(
  into: Transitions,
  live: RoutedBatch,
  draft: RoutedBatch,
  window: SlottedWindow | undefined,
  added?: AddedRows,
): void {
  if (live.arrived.rows === draft.arrived.rows) addRows(into, live, draft, window, added?.live);
  else {
    addRows(into, live, undefined, window, added?.live);
    addRows(into, undefined, draft, window, added?.draft);
  }
}

/** How often a surge adds each event, by row of each plan's batch. */
export interface AddedRows {
  readonly live: Float32Array;
  readonly draft: Float32Array;
}

/** The places of a plan's rows, as indexes into `places`. */
interface Placed {
  readonly of: Uint32Array;
  readonly places: readonly Place[];
}

function placed({ arrived, fates, fateOf }: RoutedBatch): Placed {
  const places = fates.flatMap(({ outcome, tier, rule }: Fate): readonly Place[] => [
    [outcome, tier, rule, false],
    [outcome, tier, rule, true],
  ]);
  return { of: Uint32Array.from(fateOf, (fate, row) => fate * 2 + (arrived.parsed[row] as number)), places };
}

function addRows(
  into: Transitions,
  live: RoutedBatch | undefined,
  draft: RoutedBatch | undefined,
  window: SlottedWindow | undefined,
  added: Float32Array | undefined,
): void {
  const batch = (live ?? draft)?.arrived;
  if (!batch) return;
  const { source, rows, weight, size, received, shape } = batch;
  const before = live && placed(live);
  const after = draft && placed(draft);
  const wide = after?.places.length ?? 1;
  const high = (before?.places.length ?? 1) * wide;
  const perSlot = window ? slotCount / Math.max(1, window.to - window.from) : 0;
  const known = new Map<number, Transition>();
  let lastKey = -1;
  let last: Transition | undefined;
  for (let row = 0; row < rows; row++) {
    const code = (shape?.codes[row] ?? -1) + 1;
    const key = code * high + (before?.of[row] ?? 0) * wide + (after?.of[row] ?? 0);
    if (key !== lastKey || !last) {
      last = known.get(key);
      if (!last) {
        const name = shape && code > 0 ? textAt(shape.table, code - 1) : '';
        const from = before?.places[before.of[row] as number] ?? nowhere;
        const to = after?.places[after.of[row] as number] ?? nowhere;
        known.set(key, (last = transitionOf(into, { source, shape: name, live: from, draft: to })));
      }
      lastKey = key;
    }
    const events = weight[row] as number;
    const bytes = events * (size[row] as number);
    last.events += events;
    last.bytes += bytes;
    const slot = window ? ((received[row] as number) - window.from) * perSlot : 0;
    const at = Math.min(slotCount - 1, Math.max(0, Math.floor(slot)));
    last.slots[at] = (last.slots[at] as number) + bytes;
    if (added) last.extra[at] = (last.extra[at] as number) + bytes * (added[row] as number);
  }
}

type Kind = Pick<Transition, 'source' | 'shape' | 'live' | 'draft'>;

function transitionOf(into: Transitions, kind: Kind): Transition {
  const { source, shape, live, draft } = kind;
  const key = JSON.stringify([source, shape, live, draft]);
  const known = into.get(key);
  if (known) return known;
  if (shape !== '' && into.size >= mostTransitions) return transitionOf(into, { ...kind, shape: '' });
  const [slots, extra] = [new Float64Array(slotCount), new Float64Array(slotCount)];
  const transition = { source, shape, live, draft, events: 0, bytes: 0, slots, extra };
  into.set(key, transition);
  return transition;
}

/** Adds all of `other`. */
export function mergeTransitions(into: Transitions, other: Transitions): void {
  for (const { events, bytes, slots, extra, ...kind } of other.values()) {
    const transition = transitionOf(into, kind);
    transition.events += events;
    transition.bytes += bytes;
    addSlots(transition.slots, slots);
    addSlots(transition.extra, extra);
  }
}

/** Adds bytes slot by slot. */
export function addSlots(into: Float64Array, slots: Float64Array): void {
  slots.forEach((bytes, slot) => {
    into[slot] = (into[slot] as number) + bytes;
  });
}
