import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { type DistinctSketch, newDistinctSketch, packDistinct, unpackDistinct } from '../sketches/distinct.ts';
import { newQuantileSketch, packQuantiles, type QuantileSketch, unpackQuantiles } from '../sketches/quantiles.ts';
import type { AggregateState } from '../summaries/aggregate-states.ts';
import type { Aggregate } from '../summaries/summary.ts';
import { packNumbers, unpackNumbers } from './pack-numbers.ts';
import { filledPlaces, newPoints, type Points } from './points.ts';

/** Writes points of `places` places in few bytes: of counts about one byte a point. */
export function packPoints(points: Points, places: number): Uint8Array<ArrayBuffer> {
  const writer = new NumberWriter();
  writePoints(writer, points, places);
  return writer.bytes();
}

/** Reads what {@link packPoints} wrote. */
export function unpackPoints(bytes: Uint8Array, aggregates: readonly Aggregate[], places: number): Points {
  return readPoints(new NumberReader(bytes), aggregates, places);
}

/** As {@link packPoints}, after what was written already. */
export function writePoints(writer: NumberWriter, points: Points, places: number): void {
  writeFilled(writer, points.filled, places);
  const filled = filledPlaces(points, places);
  for (const state of points.states) writeState(writer, state, filled);
}

/** Reads what {@link writePoints} wrote. */
export function readPoints(reader: NumberReader, aggregates: readonly Aggregate[], places: number): Points {
  const points = newPoints(aggregates, places);
  readFilled(reader, points.filled, places);
  const filled = filledPlaces(points, places);
  for (const state of points.states) readState(reader, state, filled);
  return points;
}

/** Which places are filled: the lengths of runs, by turns of empty and of filled ones. */
function writeFilled(writer: NumberWriter, filled: Uint8Array, places: number): void {
  let at = 0;
  for (let wanted = 0; at < places; wanted ^= 1) {
    let end = at;
    while (end < places && filled[end] === wanted) end++;
    writer.number(end - at);
    at = end;
  }
}

function readFilled(reader: NumberReader, filled: Uint8Array, places: number): void {
  let at = 0;
  for (let value = 0; at < places; value ^= 1) {
    const length = reader.number();
    // What is cut off is empty.
    if (length < 1 && value === 1) return;
    filled.fill(value, at, Math.min(places, at + length));
    at += length;
  }
}

function writeState(writer: NumberWriter, state: AggregateState, places: readonly number[]): void {
  const numbers = (values: Float64Array): void =>
    packNumbers(
      writer,
      Float64Array.from(places, (place) => values[place] as number),
    );
  switch (state.kind) {
    case 'sum':
    case 'least':
    case 'most':
      numbers(state.values);
      return;
    case 'mean':
      numbers(state.sums);
      numbers(state.weights);
      return;
    case 'first':
    case 'last':
      numbers(state.times);
      packNumbers(
        writer,
        Float64Array.from(places, (place) => Number(state.values[place] ?? Number.NaN)),
      );
      return;
    case 'quantiles':
      for (const place of places) packQuantiles(writer, state.sketches[place] ?? newQuantileSketch());
      return;
    default:
      for (const place of places) packDistinct(writer, state.sketches[place] ?? newDistinctSketch());
  }
}

function readState(reader: NumberReader, state: AggregateState, places: readonly number[]): void {
  const numbers = (into: Float64Array): void => {
    const values = unpackNumbers(reader, places.length);
    // Mostly each place is filled.
    if (places.at(-1) === places.length - 1) into.set(values);
    else for (let i = 0; i < places.length; i++) into[places[i] as number] = values[i] as number;
  };
  switch (state.kind) {
    case 'sum':
    case 'least':
    case 'most':
      numbers(state.values);
      return;
    case 'mean':
      numbers(state.sums);
      numbers(state.weights);
      return;
    case 'first':
    case 'last': {
      numbers(state.times);
      const values = unpackNumbers(reader, places.length);
      places.forEach((place, i) => {
        state.values[place] = values[i] as number;
      });
      return;
    }
    case 'quantiles':
      for (const place of places) state.sketches[place] = unpackQuantiles(reader) satisfies QuantileSketch;
      return;
    default:
      for (const place of places) state.sketches[place] = unpackDistinct(reader) satisfies DistinctSketch;
  }
}
