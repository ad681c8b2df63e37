import { deflateRawSync } from 'node:zlib';
import type { EventBatch } from '#core/events/batch.ts';
import { allRows } from '#core/events/select.ts';
import { type ReadResult, readingRule } from '#core/formats/read.ts';
import type { Records } from '#core/formats/records.ts';
import { type Observation, observe } from '#core/health/observe.ts';
import { addToProfile, newProfile, type Profile } from '#core/health/profile.ts';
import type { CompiledPlan } from '#core/plan/compile.ts';
import { type PlanDocument, rejectsTier } from '#core/plan/document.ts';
import type { StepMeasures } from '#core/plan/step-measures.ts';
import { Ledger, type LedgerEntry, ledgerStart } from '#core/routing/ledger.ts';
import { seededRandom } from '#core/routing/route.ts';
import type { NewSegment } from '#store/segments.ts';
import type { NewTapeChunk } from '#store/tape.ts';
import type { Delivery, DeliveryAnswer } from '../intake/delivery.ts';
import { countStored, type Destinations, distribute, encodeDestination } from './destinations.ts';
import { compiledPlan, PlanUnready } from './plans.ts';
import { readDelivery } from './read-delivery.ts';
import { tapedEvent } from './tape.ts';

/** Deliveries to be run through a plan together. */
export interface ProcessTask {
  readonly deliveries: readonly Delivery[];
  readonly plan: PlanDocument;
  readonly revision: number;
  readonly now: number;
  /** When each table that steps look values up in was last changed (milliseconds). */
  readonly tables: Readonly<Record<string, number>>;
  /** Whether steps are weighed, traits gathered and profiles taken, which is done for some groups only. */
  readonly closely: boolean;
}

/** What a worker made of some deliveries; nothing of it is stored yet. */
export interface ProcessResult {
  readonly answers: readonly DeliveryAnswer[];
  readonly segments: readonly NewSegment[];
  readonly ledger: readonly LedgerEntry[];
  readonly tape: readonly NewTapeChunk[];
  readonly observed: readonly SourceObservation[];
  readonly steps: StepMeasures;
}

/** Why nothing can be processed for now, which is no delivery's fault. */
export interface Unready {
  readonly unready: string;
}

/** What a delivery tells about its source and its emitters. */
export interface SourceObservation {
  readonly source: string;
  readonly backfill: boolean;
  readonly list: readonly Observation[];
  readonly profile?: Profile;
}

/** How long records stay on the tape, in milliseconds. */
export const tapeLength = 25 * 3_600_000;

/** Reads, parses and routes deliveries and encodes what is to be stored. */
export default async function processDeliveries(task: ProcessTask): Promise<ProcessResult | Unready> {
  try {
    return processWith(await compiledPlan(task.plan, task.tables), task);
  } catch (error) {
    if (error instanceof PlanUnready) return { unready: error.message };
    throw error;
  }
}

function processWith(plan: CompiledPlan, task: ProcessTask): ProcessResult {
  const random = seededRandom(Math.floor(Math.random() * 0x7fffffff));
  const ledger = new Ledger();
  const tape = new TapeSampler(task.now);
  const kept: Destinations = new Map();
  const observed: SourceObservation[] = [];
  const steps: StepMeasures = new Map();
  const answers = task.deliveries.map((delivery): DeliveryAnswer => {
    const read = readDelivery(delivery);
    if ('kind' in read) return read;
    const { result, records, replaced } = read;
    tape.sample(delivery, result, records);
    const { source, backfill, fleets } = delivery;
    const profile = task.closely && !backfill ? profileOf(result.batch) : undefined;
    // What steps do is measured live: history that is brought in says nothing about a day.
    const measured = backfill ? {} : { measures: steps, weigh: task.closely };
    const since = delivery.notBefore;
    const context = { now: task.now, random, since, expires: true, ...measured, ...(fleets && { fleets }) };
    const routed = plan.run(result.batch, context);
    const list = observe(backfill ? asHappened(result.batch, routed.batch) : result.batch, task.closely);
    observed.push({ source, backfill, list, ...(profile && { profile }) });
    for (const rows of routed.tiers) distribute(kept, rows, task.now);
    for (const entry of routed.ledger) ledger.add(entry);
    if (result.unreadable) reject(result.unreadable, kept, ledger, task.now);
    return {
      kind: 'stored',
      accepted: result.batch.rows,
      rejected: result.rejected,
      problems: result.problems,
      notes: notesOf(result, replaced),
    };
  });
  const segments = [...kept.values()].flatMap((destination) => encodeDestination(destination, task.revision));
  for (const segment of segments) countStored(ledger, segment, task.now);
  return { answers, segments, ledger: ledger.list(), tape: tape.chunks(), observed, steps };
}

/** Keeps records that could not be read among the rejects. */
function reject(unreadable: EventBatch, kept: Destinations, ledger: Ledger, now: number): void {
  distribute(kept, { tier: rejectsTier.id, batch: unreadable, rows: allRows(unreadable) }, now);
  // The records of a delivery came at the same time.
  ledger.add({
    start: ledgerStart(unreadable.received[0] as number, now),
    source: unreadable.source,
    outcome: 'rejected',
    tier: '',
    rule: readingRule,
    parsed: false,
    events: unreadable.rows,
    bytes: unreadable.size.reduce((sum, size) => sum + size, 0),
    stored: 0,
  });
}

/** History arrived when it happened, which for plain lines only their pipeline tells. */
function asHappened(raw: EventBatch, parsed: EventBatch): EventBatch {
  return parsed.rows === raw.rows ? { ...raw, received: parsed.time } : raw;
}

function profileOf(batch: EventBatch): Profile {
  const profile = newProfile();
  addToProfile(profile, batch);
  return profile;
}

function notesOf(result: ReadResult, replaced: boolean): readonly string[] {
  const notes: string[] = [];
  if (replaced) notes.push('Some bytes were no UTF-8; each was replaced by U+FFFD.');
  if (result.timesNotBelieved > 0) {
    notes.push(
      `${result.timesNotBelieved} events had a time far from their arrival; the time of arrival was used and theirs kept in time.given.`,
    );
  }
  if (result.attributesLeftOut > 0) {
    notes.push(
      `${result.attributesLeftOut} values were left out: a request may have at most 500 different field names, of at most 256 bytes each.`,
    );
  }
  return notes;
}

/** Picks raw records for the tape, by chance, so that what the tape holds can be weighed up to what arrived. */
class TapeSampler {
  private readonly openChunks = new Map<string, { source: string; lines: string[]; from: number; to: number }>();

  constructor(private readonly now: number) {}

  sample(delivery: Delivery, result: ReadResult, records: Records | undefined): void {
    const decoder = new TextDecoder('utf-8', { ignoreBOM: true });
    const { batch } = result;
    for (let row = 0; row < batch.rows; row++) {
      if (delivery.tapeEvery > 1 && Math.random() * delivery.tapeEvery >= 1) continue;
      const received = batch.received[row] as number;
      if (received < this.now - tapeLength) continue;
      const record = result.records[row] as number;
      const [format, ...raw] = records
        ? [delivery.format, decoder.decode(records.bytes.subarray(records.starts[record], records.ends[record]))]
        : tapedEvent(batch, row);
      const chunk = this.chunkOf(delivery.source, format, received);
      chunk.lines.push(JSON.stringify([received, delivery.tapeEvery, format, ...raw]));
    }
  }

  /** All records of a chunk are written in the same format. */
  private chunkOf(source: string, format: string, received: number): { readonly lines: string[] } {
    const key = `${source} ${format}`;
    let chunk = this.openChunks.get(key);
    if (!chunk) this.openChunks.set(key, (chunk = { source, lines: [], from: received, to: received }));
    chunk.from = Math.min(chunk.from, received);
    chunk.to = Math.max(chunk.to, received);
    return chunk;
  }

  chunks(): readonly NewTapeChunk[] {
    return [...this.openChunks.values()].map(({ source, lines, from, to }) => ({
      source,
      from: Math.floor(from),
      to: Math.floor(to),
      lines: lines.length,
      data: deflateRawSync(lines.join('\n'), { level: 1 }),
    }));
  }
}
