import type { AggregateState } from '../summaries/aggregate-states.ts';
import type { Aggregate } from '../summaries/summary.ts';
import { chunkStart, type Level, levelAt, placesOf } from './levels.ts';
import { mergePoint, mergePoints, newPoints, type Points } from './points.ts';

/** The series of all that a metric keeps, whatever its keys. */
export const wholeSeries = 0;

/** Points of a series from `start` (milliseconds) on, at a level. */
export interface Chunk {
  readonly level: Level;
  readonly start: number;
  readonly series: number;
  readonly points: Points;
}

/** Puts cells of minutes into chunks, as finely as their age allows. */
export class ChunkBuilder {
  private readonly chunks = new Map<string, Chunk>();

  constructor(
    private readonly aggregates: readonly Aggregate[],
    private readonly now: number,
  ) {}

  /** Adds place `from` of some points to a series, at a time in milliseconds. */
  add(series: number, time: number, points: Points, from: number): void {
    const level = levelAt(time, this.now);
    const start = chunkStart(level, time);
    const id = `${level.level} ${start} ${series}`;
    let chunk = this.chunks.get(id);
    if (!chunk) {
      chunk = { level, start, series, points: newPoints(this.aggregates, placesOf(level)) };
      this.chunks.set(id, chunk);
    }
    mergePoint(chunk.points, Math.floor((time - start) / level.step), points, from);
  }

  list(): readonly Chunk[] {
    return [...this.chunks.values()];
  }
}

/** Adds all places of `other` that are filled to `points`, which cover the same time. */
export function mergeChunk(points: Points, other: Points, places: number): void {
  mergePoints(points, places, other, places, (place) => place);
}

/**
 * Puts points of a chunk together to those of a coarser level: place `i` of what comes back is the step that begins `i` steps
 * of that level after the chunk does.
 */
export function rolledUp(points: Points, from: Level, to: Level, aggregates: readonly Aggregate[]): Points {
  const ratio = to.step / from.step;
  const rolled = newPoints(aggregates, Math.ceil(placesOf(from) / ratio));
  mergePoints(rolled, rolled.filled.length, points, placesOf(from), (place) => Math.floor(place / ratio));
  return rolled;
}

/** Puts place `from` of other points in the place of what is there; where there is nothing, nothing is left. */
export function setPoint(points: Points, into: number, other: Points, from: number): void {
  for (const state of points.states) clearPlace(state, into);
  points.filled[into] = 0;
  if (other.filled[from] === 1) mergePoint(points, into, other, from);
}

function clearPlace(state: AggregateState, place: number): void {
  if ('sketches' in state) state.sketches[place] = undefined;
  else if ('times' in state) {
    state.times[place] = Number.NaN;
    state.values[place] = undefined;
  } else if (state.kind === 'mean') {
    state.sums[place] = 0;
    state.weights[place] = 0;
  } else state.values[place] = state.kind === 'sum' ? 0 : Number.NaN;
}
