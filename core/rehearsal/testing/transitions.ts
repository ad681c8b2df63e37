import { type Place, slotCount, type Transition, type Transitions } from '../transitions.ts';

/** Where tests send events. */
export const kept: Place = ['kept', 'rest', '', true];
export const excluded: Place = ['excluded', 'rest', 'x', true];
export const passing: Place = ['passing', '', '', false];

/** A transition of a byte an event, which came in one slot, or evenly where none is given. */
export function transitionOf(
  kind: Partial<Transition> & Pick<Transition, 'bytes'>,
  slots: readonly number[] = new Array<number>(slotCount).fill(kind.bytes / slotCount),
): Transition {
  return {
    ...{ source: 'gates', shape: '', live: kept, draft: kept, events: kind.bytes },
    ...kind,
    extra: new Float64Array(slotCount),
    slots: Float64Array.from({ length: slotCount }, (_, slot) => slots[slot] ?? 0),
  };
}

/** Transitions as a rehearsal has them. */
export function transitionsOf(list: readonly Transition[]): Transitions {
  return new Map(list.map((one) => [JSON.stringify([one.source, one.shape, one.live, one.draft]), one]));
}
