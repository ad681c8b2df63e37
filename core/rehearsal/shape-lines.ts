import { type HoleValues, mergeHoleValues, newHoleValues } from '../shapes/hole-values.ts';
import type { Skeleton } from '../shapes/token.ts';

/** What was found of a shape on the tape. Plain data; two of the same shape and readers can be added up. */
export interface ShapeLines {
  /** Taped events that have the shape after their pipelines. */
  lines: number;
  readonly values: HoleValues;
  /** By reader, how many of these events its condition holds for. */
  readonly matched: number[];
}

/** Nothing yet; `readers` is how many there are. */
export function newShapeLines(skeleton: Skeleton, readers: number): ShapeLines {
  return { lines: 0, values: newHoleValues(skeleton), matched: new Array<number>(readers).fill(0) };
}

/** Adds what was found on another part of the tape. */
export function addShapeLines(into: ShapeLines, other: ShapeLines): void {
  into.lines += other.lines;
  mergeHoleValues(into.values, other.values);
  other.matched.forEach((events, reader) => {
    into.matched[reader] = (into.matched[reader] ?? 0) + events;
  });
}
