import type { PathInPart } from './part.ts';

interface Named {
  readonly id: string;
  readonly title?: string;
}

/** The thing of a list that a path names; undefined where there is none. */
export function itemAt<Thing extends Named>(
  list: readonly Thing[],
  { item, isCounted }: Pick<PathInPart, 'item' | 'isCounted'>,
): Thing | undefined {
  return isCounted ? list[Number(item)] : list.find(({ id }) => id === item);
}

/** How a thing is called in words; one that is not there is called as the path has it. */
export function nameOf(thing: Named | undefined, item: string): string {
  return thing ? thing.title || thing.id : item;
}

/** The n-th of something as a path has it, counted from 1. */
export function numberAt(place: string, isCounted: boolean): number {
  return Number(place) + (isCounted ? 1 : 0);
}
