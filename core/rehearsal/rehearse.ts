import type { EventBatch } from '../events/batch.ts';
import { failureAttribute } from '../events/batch.ts';
import { textAt } from '../events/text-table.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import { addToParts, mergeParts, newPartEffects, type PartEffects } from '../plan/parts/rehearsed-parts.ts';
import type { RouteContext, RoutedBatch } from '../routing/route.ts';
import { seededRandom } from '../routing/route.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';

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
  /** By {@link FlowPlace}, as JSON: from where to where, and by what rule. */
  readonly flows: Map<string, Volume>;
  /** What its parts make of the tape beside volume. */
  readonly parts: PartEffects;
  /** Reasons for which steps failed. */
  readonly failures: Map<string, number>;
}

/** Source, outcome, tier and rule of volume; empty where there is none. */
export type FlowPlace = readonly [source: string, outcome: string, tier: string, rule: string];

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
    arrived: newVolume(),
    parsed: newVolume(),
    tiers: new Map(),
    outcomes: new Map(),
    rules: new Map(),
    sources: new Map(),
    flows: new Map(),
    parts: newPartEffects(),
    failures: new Map(),
  };
}

export function newRehearsal(): Rehearsal {
  return { live: newPlanEffect(), draft: newPlanEffect(), taped: 0, squares: 0 };
}

/** The two plans of a rehearsal, and when it is (milliseconds). */
export interface RehearsedPlans {
  readonly live: CompiledPlan;
  readonly draft: CompiledPlan;
  readonly now: number;
  /** The time of the oldest event that counts. */
  readonly since?: number | undefined;
  /** The id under which a shape goes now. */
  readonly currentShape?: (id: string) => string;
  /** The fleets that each source belongs to. */
  readonly fleets?: ReadonlyMap<string, readonly string[]>;
}

/**
 * Runs both plans over raw events whose weights say for how many arrivals each taped event stands; `since` (milliseconds)
 * leaves out what turns out to be older.
 */
export function rehearseBatch(
  rehearsal: Rehearsal,
  { live, draft, now, since, currentShape, fleets }: RehearsedPlans,
  batch: EventBatch,
): void {
  // The same chance for both, so that a rule which did not change gives the same events.
  const context = (): RouteContext => ({
    now,
    random: seededRandom(batch.rows + 1),
    since,
    fleets: fleets?.get(batch.source) ?? [],
    ...(currentShape && { currentShape }),
  });
  for (const [effect, plan] of [
    [rehearsal.live, live],
    [rehearsal.draft, draft],
  ] as const) {
    const routed = plan.run(batch, context());
    addEffect(effect, routed);
    addToParts(effect.parts, plan, routed, context());
  }
  rehearsal.taped += batch.rows;
  for (const weight of batch.weight) rehearsal.squares += weight * weight;
}

function addEffect(effect: PlanEffect, routed: RoutedBatch): void {
  for (const entry of routed.ledger) {
    const source = entryOf(effect.sources, entry.source, () => ({
      arrived: newVolume(),
      parsed: newVolume(),
      kept: newVolume(),
    }));
    const place: FlowPlace = [entry.source, entry.outcome, entry.tier, entry.rule];
    addVolume(entryOf(effect.flows, JSON.stringify(place), newVolume), entry);
    addVolume(effect.arrived, entry);
    addVolume(source.arrived, entry);
    if (entry.parsed) {
      addVolume(effect.parsed, entry);
      addVolume(source.parsed, entry);
    }
    addVolume(entryOf(effect.outcomes, entry.outcome, newVolume), entry);
    if (entry.outcome === 'kept') {
      addVolume(entryOf(effect.tiers, entry.tier, newVolume), entry);
      addVolume(source.kept, entry);
    } else if (entry.rule !== '') {
      addVolume(
        entryOf(effect.rules, entry.tier === '' ? entry.rule : `${entry.tier}/${entry.rule}`, newVolume),
        entry,
      );
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

function entryOf<T>(map: Map<string, T>, key: string, make: () => T): T {
  let value = map.get(key);
  if (!value) map.set(key, (value = make()));
  return value;
}

/** Adds all of `other` to `rehearsal`. */
export function mergeRehearsal(rehearsal: Rehearsal, other: Rehearsal): void {
  mergeEffect(rehearsal.live, other.live);
  mergeEffect(rehearsal.draft, other.draft);
  rehearsal.taped += other.taped;
  rehearsal.squares += other.squares;
}

function mergeEffect(into: PlanEffect, from: PlanEffect): void {
  addVolume(into.arrived, from.arrived);
  addVolume(into.parsed, from.parsed);
  for (const key of ['tiers', 'outcomes', 'rules', 'flows'] as const) {
    for (const [name, volume] of from[key]) addVolume(entryOf(into[key], name, newVolume), volume);
  }
  for (const [name, volumes] of from.sources) {
    const source = entryOf(into.sources, name, () => ({
      arrived: newVolume(),
      parsed: newVolume(),
      kept: newVolume(),
    }));
    addVolume(source.arrived, volumes.arrived);
    addVolume(source.parsed, volumes.parsed);
    addVolume(source.kept, volumes.kept);
  }
  mergeParts(into.parts, from.parts);
  for (const [reason, count] of from.failures) into.failures.set(reason, (into.failures.get(reason) ?? 0) + count);
}
