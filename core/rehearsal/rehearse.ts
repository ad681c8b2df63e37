import type { Condition } from '../conditions/condition.ts';
import type { EventBatch } from '../events/batch.ts';
import { failureAttribute } from '../events/batch.ts';
import { textAt } from '../events/text-table.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import { addToParts, mergeParts, newPartEffects, type PartEffects } from '../plan/parts/rehearsed-parts.ts';
import type { RouteContext, RoutedBatch } from '../routing/route.ts';
import { seededRandom } from '../routing/route.ts';
import { addChangedEvents, type ChangedEvents, mergeChangedEvents } from './changed-events.ts';
import { addFields, type FieldCounts, mergeFields } from './field-changes.ts';
import { addFinds, mergeFinds, type ReaderFinds } from './reader-finds.ts';
import { addedBySurge, type Surge } from './surge.ts';
import { addTransitions, mergeTransitions, type SlottedWindow, type Transitions } from './transitions.ts';

/** What one plan makes of the tape beside volume. Plain data. */
export interface PlanEffect {
  /** What its parts make of the tape. */
  readonly parts: PartEffects;
  /** Reasons for which steps failed. */
  readonly failures: Map<string, number>;
  /** How many of the kept events each reader finds. */
  readonly finds: ReaderFinds;
  /** The fields of events after their pipelines; none where pipelines do not differ. */
  readonly fields: FieldCounts;
}

/** Draft beside live over the same events. */
export interface Rehearsal {
  /** What becomes of what arrived. */
  readonly transitions: Transitions;
  readonly live: PlanEffect;
  readonly draft: PlanEffect;
  /** Some of the events of which the draft makes something else. */
  readonly changed: ChangedEvents;
  /** Taped events that were run. */
  taped: number;
}

/** Most different failure reasons that are told apart. */
const maxReasons = 200;

function newPlanEffect(): PlanEffect {
  return { parts: newPartEffects(), failures: new Map(), finds: [], fields: new Map() };
}

export function newRehearsal(): Rehearsal {
  return { transitions: new Map(), live: newPlanEffect(), draft: newPlanEffect(), changed: new Map(), taped: 0 };
}

/** The two plans of a rehearsal, and when it is (milliseconds). */
export interface RehearsedPlans {
  readonly live: CompiledPlan;
  readonly draft: CompiledPlan;
  readonly now: number;
  /** Whether pipelines differ, so that events may get other fields; absent: they do not. */
  readonly comparesFields?: boolean;
  /** Who reads events that are kept. */
  readonly readers?: readonly Condition[];
  /** What comes on top of the events; its times are of either plan's events after pipelines. */
  readonly surge?: Surge | undefined;
  /** The window that the events are a sample of; absent: they are all there is. */
  readonly window?: SlottedWindow | undefined;
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
  {
    live,
    draft,
    now,
    window,
    since,
    currentShape,
    fleets,
    comparesFields = false,
    readers = [],
    surge,
  }: RehearsedPlans,
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
  const run = (effect: PlanEffect, plan: CompiledPlan): RoutedBatch => {
    const routed = plan.run(batch, context());
    countFailures(effect, routed.batch);
    addToParts(effect.parts, plan, routed, context());
    addFinds(effect.finds, readers, routed, context());
    if (comparesFields) addFields(effect.fields, routed.arrived);
    return routed;
  };
  const before = run(rehearsal.live, live);
  const after = run(rehearsal.draft, draft);
  const added = surge && {
    live: addedBySurge(surge, before.arrived, context()),
    draft: addedBySurge(surge, after.arrived, context()),
  };
  addTransitions(rehearsal.transitions, before, after, window, added);
  addChangedEvents(rehearsal.changed, before, after, comparesFields);
  rehearsal.taped += batch.rows;
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

/** Adds all of `other` to `rehearsal`. */
export function mergeRehearsal(rehearsal: Rehearsal, other: Rehearsal): void {
  mergeTransitions(rehearsal.transitions, other.transitions);
  mergeEffect(rehearsal.live, other.live);
  mergeEffect(rehearsal.draft, other.draft);
  mergeChangedEvents(rehearsal.changed, other.changed);
  rehearsal.taped += other.taped;
}

function mergeEffect(into: PlanEffect, from: PlanEffect): void {
  mergeParts(into.parts, from.parts);
  mergeFinds(into.finds, from.finds);
  mergeFields(into.fields, from.fields);
  for (const [reason, count] of from.failures) into.failures.set(reason, (into.failures.get(reason) ?? 0) + count);
}
