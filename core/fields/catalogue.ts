import type { EventBatch } from '../events/batch.ts';
import { type AttributeColumns, missingFlag, type TextColumn } from '../events/columns.ts';
import { attributeBytes, bodyBytes } from '../events/footprint.ts';
import { encode, hashBytes, textAt } from '../events/text-table.ts';
import type { FieldType } from '../health/profile.ts';
import {
  addToDistinct,
  type DistinctSketch,
  distinctCount,
  mergeDistinct,
  newDistinctSketch,
} from '../sketches/distinct.ts';

/** What is known of a field from some events. Weights are counted. Plain data. */
export interface FieldPartial {
  readonly types: Record<FieldType, number>;
  readonly distinct: DistinctSketch;
  /** Some values with the events that have them. */
  readonly samples: Map<string, number>;
  /** By source: events that have it, by type. */
  readonly sources: Map<string, Record<FieldType, number>>;
  /** Bytes of its values by source. */
  readonly weights: Map<string, number>;
}

/** All fields of some events. */
export interface CataloguePartial {
  events: number;
  /** By source: bytes of lines and of all fields. */
  readonly weights: Map<string, number>;
  readonly fields: Map<string, FieldPartial>;
  /** Fields beyond {@link mostFields}, which are only counted. */
  leftOut: number;
}

/** A field as the catalogue shows it. */
export interface CatalogueField {
  readonly name: string;
  readonly types: Readonly<Record<FieldType, number>>;
  /** Events that have it. */
  readonly events: number;
  readonly bytes: number;
  readonly distinct: number;
  readonly samples: readonly string[];
  readonly sources: readonly (readonly [source: string, counts: Readonly<Record<FieldType, number>>])[];
}

export const mostFields = 2_000;
const mostSamples = 6;
const longestSample = 80;
/** Values of a field and batch that are looked at for how many different ones there are, and for samples. */
const valuesLookedAt = 400;
const valuesSampled = 20;

export function newCatalogue(): CataloguePartial {
  return { events: 0, weights: new Map(), fields: new Map(), leftOut: 0 };
}

/** Adds a batch of parsed events. */
export function addToCatalogue(catalogue: CataloguePartial, batch: EventBatch): void {
  let weight = 0;
  for (const eventWeight of batch.weight) weight += eventWeight;
  const mean = batch.rows > 0 ? weight / batch.rows : 0;
  let bytes = bodyBytes(batch);
  catalogue.events += weight;
  for (const [name, columns] of batch.attributes) {
    const field = fieldOf(catalogue, name);
    const weightOfField = attributeBytes(columns);
    bytes += weightOfField;
    if (field) addColumns(field, columns, batch, weightOfField * mean);
  }
  addTo(catalogue.weights, batch.source, bytes * mean);
}

function fieldOf(catalogue: CataloguePartial, name: string): FieldPartial | undefined {
  let field = catalogue.fields.get(name);
  if (field) return field;
  if (catalogue.fields.size >= mostFields) {
    catalogue.leftOut++;
    return undefined;
  }
  field = {
    ...{ types: noTypes(), distinct: newDistinctSketch() },
    ...{ samples: new Map(), sources: new Map(), weights: new Map() },
  };
  catalogue.fields.set(name, field);
  return field;
}

function noTypes(): Record<FieldType, number> {
  return { number: 0, text: 0, flag: 0 };
}

function addColumns(field: FieldPartial, columns: AttributeColumns, batch: EventBatch, bytes: number): void {
  let ofSource = field.sources.get(batch.source);
  if (!ofSource) field.sources.set(batch.source, (ofSource = noTypes()));
  addTo(field.weights, batch.source, bytes);
  const { text, number, flag } = columns;
  const counts = noTypes();
  if (text) counts.text = addTexts(field, text, batch.weight);
  if (number) {
    const looked = new ValueSample(field);
    number.values.forEach((value, row) => {
      if (value !== value) return;
      counts.number += batch.weight[row] as number;
      looked.add(value, batch.weight[row] as number);
    });
  }
  if (flag) {
    const looked = new ValueSample(field);
    flag.values.forEach((value, row) => {
      if (value === missingFlag) return;
      counts.flag += batch.weight[row] as number;
      looked.add(value === 1, batch.weight[row] as number);
    });
  }
  addTypes(field.types, counts);
  addTypes(ofSource, counts);
}

/** Adds a column of texts by its different texts; the weight of the rows that have one. */
function addTexts(field: FieldPartial, { codes, table }: TextColumn, weights: Float32Array): number {
  const byCode = new Float64Array(table.count);
  let total = 0;
  for (let row = 0; row < codes.length; row++) {
    const code = codes[row] as number;
    if (code < 0) continue;
    byCode[code] = (byCode[code] as number) + (weights[row] as number);
    total += weights[row] as number;
  }
  let looked = 0;
  for (let code = 0; code < table.count && looked < valuesLookedAt; code++) {
    const weight = byCode[code] as number;
    if (weight === 0) continue;
    const start = table.offsets[code] as number;
    const end = table.offsets[code + 1] as number;
    addToDistinct(field.distinct, hashBytes(table.bytes, start, end));
    if (looked++ < valuesSampled) addSample(field, textAt(table, code), weight);
  }
  return total;
}

/** Looks at the first values of a batch, for how many different ones there are and for samples. */
class ValueSample {
  private looked = 0;
  private last: unknown;

  constructor(private readonly field: FieldPartial) {}

  add(value: number | boolean, weight: number): void {
    if (this.looked >= valuesLookedAt || value === this.last) return;
    this.last = value;
    const text = String(value);
    const bytes = encode(text);
    addToDistinct(this.field.distinct, hashBytes(bytes, 0, bytes.length));
    if (this.looked++ < valuesSampled) addSample(this.field, text, weight);
  }
}

function addSample({ samples }: FieldPartial, value: string, weight: number): void {
  const text = value.slice(0, longestSample);
  const known = samples.get(text);
  if (known !== undefined || samples.size < mostSamples) samples.set(text, (known ?? 0) + weight);
}

/** Adds all of `other` to a catalogue. */
export function mergeCatalogue(catalogue: CataloguePartial, other: CataloguePartial): void {
  catalogue.events += other.events;
  catalogue.leftOut += other.leftOut;
  for (const [source, bytes] of other.weights) addTo(catalogue.weights, source, bytes);
  for (const [name, theirs] of other.fields) {
    const field = fieldOf(catalogue, name);
    if (!field) continue;
    for (const [source, bytes] of theirs.weights) addTo(field.weights, source, bytes);
    mergeDistinct(field.distinct, theirs.distinct);
    addTypes(field.types, theirs.types);
    for (const [value, count] of theirs.samples) {
      if (field.samples.has(value) || field.samples.size < mostSamples)
        field.samples.set(value, (field.samples.get(value) ?? 0) + count);
    }
    for (const [source, counts] of theirs.sources) {
      let ofSource = field.sources.get(source);
      if (!ofSource) field.sources.set(source, (ofSource = noTypes()));
      addTypes(ofSource, counts);
    }
  }
}

function addTo(sums: Map<string, number>, key: string, value: number): void {
  sums.set(key, (sums.get(key) ?? 0) + value);
}

function addTypes(into: Record<FieldType, number>, from: Readonly<Record<FieldType, number>>): void {
  into.number += from.number;
  into.text += from.text;
  into.flag += from.flag;
}

/** The fields of a catalogue, the heaviest first. */
export function catalogueFields(catalogue: CataloguePartial): readonly CatalogueField[] {
  return [...catalogue.fields]
    .map(([name, field]) => ({
      name,
      types: field.types,
      events: field.types.number + field.types.text + field.types.flag,
      bytes: [...field.weights.values()].reduce((sum, bytes) => sum + bytes, 0),
      distinct: distinctCount(field.distinct),
      samples: [...field.samples].sort((a, b) => b[1] - a[1]).map(([value]) => value),
      sources: [...field.sources].sort((a, b) => total(b[1]) - total(a[1])),
    }))
    .sort((a, b) => b.bytes - a.bytes);
}

/** By source, how much of the bytes of its lines and fields each field is, from 0 to 1. */
export type FieldShares = ReadonlyMap<string, ReadonlyMap<string, number>>;

/** How much of what a source sends its fields are. */
export function fieldShares({ fields, weights }: CataloguePartial): FieldShares {
  const shares = new Map<string, Map<string, number>>([...weights.keys()].map((source) => [source, new Map()]));
  for (const [name, field] of fields)
    for (const [source, bytes] of field.weights) {
      const whole = weights.get(source) ?? 0;
      if (whole > 0 && bytes > 0) shares.get(source)?.set(name, bytes / whole);
    }
  return shares;
}

function total(types: Readonly<Record<FieldType, number>>): number {
  return types.number + types.text + types.flag;
}
