import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import type { Observation } from './observe.ts';
import { newProfile, type Profile } from './profile.ts';

/** What a delivery tells about its source and its emitters. Plain data. */
export interface SourceObservation {
  readonly source: string;
  /** Whether it brought in history. */
  readonly backfill: boolean;
  readonly list: readonly Observation[];
  readonly profile?: Profile;
}

/** Writes what deliveries reported in few bytes, for the store: about 30 an emitter. */
export function packHeard(heard: readonly SourceObservation[]): Uint8Array<ArrayBuffer> {
  const writer = new NumberWriter();
  writer.number(heard.length);
  for (const { source, backfill, list, profile } of heard) {
    writer.text(source);
    writer.number((backfill ? 1 : 0) + (profile ? 2 : 0));
    const start = startOf(list);
    writer.number(start);
    writer.number(list.length);
    for (const observation of list) writeObservation(writer, observation, start);
    if (profile) writeProfile(writer, profile);
  }
  return writer.bytes();
}

/** Reads what {@link packHeard} wrote; times to the millisecond. */
export function unpackHeard(bytes: Uint8Array): readonly SourceObservation[] {
  const reader = new NumberReader(bytes);
  return readList(reader, () => {
    const source = reader.text();
    const flags = reader.number();
    const start = reader.number();
    const list = readList(reader, () => readObservation(reader, start));
    return {
      source,
      backfill: (flags & 1) !== 0,
      list,
      ...((flags & 2) !== 0 && { profile: readProfile(reader) }),
    };
  });
}

/** The first millisecond in which anything was heard: times are written from there. */
function startOf(list: readonly Observation[]): number {
  let start = Number.POSITIVE_INFINITY;
  for (const { arrivals } of list) for (const [from] of arrivals.spans) start = Math.min(start, from);
  return Number.isFinite(start) ? Math.floor(start) : 0;
}

/** What is there so many times as the number before it says. */
function readList<Item>(reader: NumberReader, read: () => Item): readonly Item[] {
  const list: Item[] = [];
  for (let left = reader.number(); left > 0; left--) list.push(read());
  return list;
}

function writeObservation(writer: NumberWriter, observation: Observation, start: number): void {
  const { arrivals, traits } = observation;
  writer.text(observation.emitter);
  writer.number(arrivals.events);
  writer.number(arrivals.spans.length);
  let last = start;
  for (const [from, to] of arrivals.spans) {
    writer.number(Math.floor(from) - last);
    writer.number(Math.floor(to) - Math.floor(from));
    last = Math.floor(to);
  }
  writer.number(arrivals.gaps.length);
  for (const [index, count, longest, sum] of arrivals.gaps) {
    writer.number(index);
    writer.number(count);
    writer.number(Math.round(longest));
    writer.number(Math.round(sum));
  }
  writer.number(observation.bytes);
  writer.number(observation.parsed);
  writer.number(Math.round(observation.latenessSum));
  writer.number(Math.round(observation.latenessLeast));
  writer.number(Math.round(observation.latenessMost));
  writeSequence(writer, observation);
  writer.number(traits.length);
  for (const [name, value] of traits) {
    writer.text(name);
    writer.text(value);
  }
}

function readObservation(reader: NumberReader, start: number): Observation {
  const emitter = reader.text();
  const events = reader.number();
  let last = start;
  const spans: [number, number][] = [];
  for (let left = reader.number(); left > 0; left--) {
    const from = last + reader.number();
    last = from + reader.number();
    spans.push([from, last]);
  }
  const gaps: [number, number, number, number][] = [];
  for (let left = reader.number(); left > 0; left--)
    gaps.push([reader.number(), reader.number(), reader.number(), reader.number()]);
  const bytes = reader.number();
  const parsed = reader.number();
  const latenessSum = reader.number();
  const latenessLeast = reader.number();
  const latenessMost = reader.number();
  const isNumbered = reader.number() === 1;
  return {
    emitter,
    arrivals: { events, spans, gaps },
    bytes,
    parsed,
    latenessSum,
    latenessLeast,
    latenessMost,
    gaps: isNumbered ? reader.number() : 0,
    duplicates: isNumbered ? reader.number() : 0,
    firstNumber: isNumbered ? reader.number() : Number.NaN,
    lastNumber: isNumbered ? reader.number() : Number.NaN,
    traits: readTraits(reader),
  };
}

const noTraits: Observation['traits'] = [];

/** Most of what is heard has none: they are gathered now and then. */
function readTraits(reader: NumberReader): Observation['traits'] {
  let left = reader.number();
  if (left === 0) return noTraits;
  const traits: [string, string][] = [];
  for (; left > 0; left--) traits.push([reader.text(), reader.text()]);
  return traits;
}

/** Most emitters do not number what they send. */
function writeSequence(writer: NumberWriter, { gaps, duplicates, firstNumber, lastNumber }: Observation): void {
  const isNumbered = firstNumber === firstNumber;
  writer.number(isNumbered ? 1 : 0);
  if (!isNumbered) return;
  writer.number(gaps);
  writer.number(duplicates);
  writer.number(firstNumber);
  writer.number(lastNumber);
}

function writeProfile(writer: NumberWriter, { events, severities, fields }: Profile): void {
  writer.number(events);
  for (const count of severities) writer.number(count);
  writer.number(fields.size);
  for (const [name, { number, text, flag }] of fields) {
    writer.text(name);
    writer.number(number);
    writer.number(text);
    writer.number(flag);
  }
}

function readProfile(reader: NumberReader): Profile {
  const profile = newProfile();
  profile.events = reader.number();
  for (let place = 0; place < profile.severities.length; place++) profile.severities[place] = reader.number();
  for (let left = reader.number(); left > 0; left--)
    profile.fields.set(reader.text(), { number: reader.number(), text: reader.number(), flag: reader.number() });
  return profile;
}
