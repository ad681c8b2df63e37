import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { minute } from '../events/time-units.ts';
import { type Labels, type LabelValue, labelsId, theRest } from './labels.ts';
import { measures } from './measures/index.ts';
import type { Measure } from './measures/measure.ts';
import type { Cell, MetricAccumulator } from './metric-accumulator.ts';
import { packNumbers, unpackNumbers } from './pack-numbers.ts';
import { readPoints, writePoints } from './pack-points.ts';
import type { Points } from './points.ts';

/** What a group of events brought for a metric; it says all that is needed to put it where it belongs. */
export interface MetricDelta {
  readonly id: string;
  readonly measure: Measure;
  readonly field: string;
  /** Most series. */
  readonly limit: number;
  readonly keys: readonly { readonly name: string; readonly top: number | undefined }[];
  readonly cells: readonly Cell[];
  /** How many events each cell is made of. */
  readonly events: Float64Array;
  /** A place for each cell. */
  readonly points: Points;
}

/** Writes what a group brought for metrics, for the store. */
export function packMetricDeltas(accumulators: readonly MetricAccumulator[]): Uint8Array<ArrayBuffer> {
  const writer = new NumberWriter();
  writer.number(accumulators.length);
  for (const { metric, cells, events, points } of accumulators) {
    writer.text(metric.id);
    writer.text(metric.measure.name);
    writer.text(metric.field);
    writer.number(metric.limit);
    writer.number(metric.keys.length);
    for (const { name, top = 0 } of metric.keys) {
      writer.text(name);
      writer.number(top);
    }
    writeCells(writer, cells);
    packNumbers(writer, Float64Array.from(events));
    writePoints(writer, points, cells.length);
  }
  return writer.bytes();
}

/** Reads what {@link packMetricDeltas} wrote. */
export function unpackMetricDeltas(bytes: Uint8Array): readonly MetricDelta[] {
  const reader = new NumberReader(bytes);
  return counted(reader, () => {
    const id = reader.text();
    const name = reader.text();
    const field = reader.text();
    const limit = reader.number();
    const keys = counted(reader, () => ({ name: reader.text(), top: reader.number() || undefined }));
    const cells = readCells(reader, keys.length);
    const events = unpackNumbers(reader, cells.length);
    const measure = measures.get(name);
    if (!measure) throw new Error(`The delta of the metric ${id} cannot be read: ${name} is no measure.`);
    return {
      id,
      measure,
      field,
      limit,
      keys,
      cells,
      events,
      points: readPoints(reader, measure.aggregates(field), cells.length),
    };
  });
}

/** Each text once, each series once, then the minute and the series of each cell. */
function writeCells(writer: NumberWriter, cells: readonly Cell[]): void {
  const texts = new Map<string, number>();
  const series = new Map<string, number>();
  const labelsOf: Labels[] = [];
  const seriesOf = cells.map(({ labels }) => {
    const id = labelsId(labels);
    const known = series.get(id);
    if (known !== undefined) return known;
    for (const value of labels) if (typeof value === 'string' && !texts.has(value)) texts.set(value, texts.size);
    series.set(id, labelsOf.length);
    return labelsOf.push(labels) - 1;
  });
  writer.number(texts.size);
  for (const text of texts.keys()) writer.text(text);
  writer.number(labelsOf.length);
  for (const labels of labelsOf)
    for (const value of labels)
      writer.number(typeof value === 'string' ? 2 + (texts.get(value) as number) : value === theRest ? 1 : 0);
  writer.number(cells.length);
  let before = 0;
  for (const [i, { start }] of cells.entries()) {
    writer.number(start / minute - before);
    writer.number(seriesOf[i] as number);
    before = start / minute;
  }
}

function readCells(reader: NumberReader, keys: number): readonly Cell[] {
  const texts = counted(reader, () => reader.text());
  const value = (): LabelValue => {
    const code = reader.number();
    return code === 0 ? null : code === 1 ? theRest : (texts[code - 2] ?? null);
  };
  const series = counted(reader, (): Labels => Array.from({ length: keys }, value));
  let at = 0;
  return counted(reader, () => {
    at += reader.number();
    return { start: at * minute, labels: series[reader.number()] ?? [] };
  });
}

function counted<Item>(reader: NumberReader, read: () => Item): readonly Item[] {
  return Array.from({ length: reader.number() }, read);
}
