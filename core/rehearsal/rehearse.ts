import type { EventBatch } from '../events/batch.ts';
import { failureAttribute } from '../events/batch.ts';
import { textAt } from '../events/text-table.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import type { RoutedBatch } from '../routing/route.ts';
import { seededRandom } from '../routing/route.ts';

/** Events and bytes, as they arrived (weights counted). */
export interface Volume {
  events: number;
  bytes: number;
}

/** What one plan makes of the tape. Plain data. */
export interface PlanEffect {
  readonly arrived: Volume;
  readonly parsed: Volume;
  /** By tier id: what it keeps. */
  readonly tiers: Map<string, Volume>;
  /** By outcome, as the ledger tells them apart. */
  readonly outcomes: Map<string, Volume>;
  /** By rule (`tier/exclusion` or `pipeline/step`): what it took away. */
  readonly rules: Map<string, Volume>;
  /** By source: what arrived, what of it was parsed, what of it is kept. */
  readonly sources: Map<string, { arrived: Volume; parsed: Volume; kept: Volume }>;
  /** Reasons for which steps failed. */
  readonly failures: Map<string, number>;
}

/** Draft beside live over the same events. */
export interface Rehearsal {
  readonly live: PlanEffect;
  readonly draft: PlanEffect;
  /** Taped events that were run. */
  taped: number;
  /** Sum of the squared weights, for the margin of error. */
  squares: number;
}

/** Most different failure reasons that are told apart. */
const maxReasons = 200;

export function newPlanEffect(): PlanEffect {
  return {
    arrived: { events: 0, bytes: 0 },
    parsed: { events: 0, bytes: 0 },
    tiers: new Map(),
    outcomes: new Map(),
    rules: new Map(),
    sources: new Map(),
    failures: new Map(),
  };
}

export function newRehearsal(): Rehearsal {
  return { live: newPlanEffect(), draft: newPlanEffect(), taped: 0, squares: 0 };
}

/**
 * Runs both plans over raw events whose weights say for how many arrivals each taped event stands; `since` (milliseconds)
 * leaves out what turns out to be older.
 */
export function rehearseBatch(
  rehearsal: Rehearsal,
  live: CompiledPlan,
  draft: CompiledPlan,
  batch: EventBatch,
  now: number,
  since?: number,
): void {
  // The same chance for both, so that a rule which did not change gives the same events.
  addEffect(rehearsal.live, live.run(batch, { now, random: seededRandom(batch.rows + 1), since }));
  addEffect(rehearsal.draft, draft.run(batch, { now, random: seededRandom(batch.rows + 1), since }));
  rehearsal.taped += batch.rows;
  for (const weight of batch.weight) rehearsal.squares += weight * weight;
}

function addEffect(effect: PlanEffect, routed: RoutedBatch): void {
  for (const entry of routed.ledger) {
    const source = held(effect.sources, entry.source, () => ({ arrived: none(), parsed: none(), kept: none() }));
    add(effect.arrived, entry);
    add(source.arrived, entry);
    if (entry.parsed) {
      add(effect.parsed, entry);
      add(source.parsed, entry);
    }
    add(held(effect.outcomes, entry.outcome, none), entry);
    if (entry.outcome === 'kept') {
      add(held(effect.tiers, entry.tier, none), entry);
      add(source.kept, entry);
    } else if (entry.rule !== '') {
      add(held(effect.rules, entry.tier === '' ? entry.rule : `${entry.tier}/${entry.rule}`, none), entry);
    }
  }
  countFailures(effect, routed.batch);
}

function countFailures(effect: PlanEffect, batch: EventBatch): void {
  const text = batch.attributes.get(failureAttribute)?.text;
  if (!text) return;
  const counts = new Float64Array(text.table.count);
  for (let row = 0; row < batch.rows; row++) {
    const code = text.codes[row] as number;
    if (code >= 0) counts[code] = (counts[code] as number) + (batch.weight[row] as number);
  }
  counts.forEach((count, code) => {
    const reason = textAt(text.table, code);
    if (effect.failures.has(reason) || effect.failures.size < maxReasons) {
      effect.failures.set(reason, (effect.failures.get(reason) ?? 0) + count);
    }
  });
}

function none(): Volume {
  return { events: 0, bytes: 0 };
}

function held<T>(map: Map<string, T>, key: string, make: () => T): T {
  let value = map.get(key);
  if (!value) map.set(key, (value = make()));
  return value;
}

function add(into: Volume, from: { readonly events: number; readonly bytes: number }): void {
  into.events += from.events;
  into.bytes += from.bytes;
}

/** Adds all of `other` to `rehearsal`. */
export function mergeRehearsal(rehearsal: Rehearsal, other: Rehearsal): void {
  mergeEffect(rehearsal.live, other.live);
  mergeEffect(rehearsal.draft, other.draft);
  rehearsal.taped += other.taped;
  rehearsal.squares += other.squares;
}

function mergeEffect(into: PlanEffect, from: PlanEffect): void {
  add(into.arrived, from.arrived);
  add(into.parsed, from.parsed);
  for (const key of ['tiers', 'outcomes', 'rules'] as const) {
    for (const [name, volume] of from[key]) add(held(into[key], name, none), volume);
  }
  for (const [name, volumes] of from.sources) {
    const source = held(into.sources, name, () => ({ arrived: none(), parsed: none(), kept: none() }));
    add(source.arrived, volumes.arrived);
    add(source.parsed, volumes.parsed);
    add(source.kept, volumes.kept);
  }
  for (const [reason, count] of from.failures) into.failures.set(reason, (into.failures.get(reason) ?? 0) + count);
}
