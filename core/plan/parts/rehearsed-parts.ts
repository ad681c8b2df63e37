import type { RouteContext, RoutedBatch } from '../../routing/route.ts';
import type { CompiledParts } from './compiled-parts.ts';
import { metricRehearsal } from './metrics/rehearse-metrics.ts';
import type { PartRehearsal } from './part-rehearsal.ts';
import { postureRehearsal } from './postures/rehearse-postures.ts';
import { rankingRehearsal } from './rankings/rehearse-rankings.ts';

/** What a rehearsal computes of parts, by their keys. */
const rehearsals = { metrics: metricRehearsal, rankings: rankingRehearsal, postures: postureRehearsal };

type Rehearsals = typeof rehearsals;
type EffectOf<Rehearsed> = Rehearsed extends PartRehearsal<infer Effect, infer _Rows> ? Effect : never;
type RowsOf<Rehearsed> = Rehearsed extends PartRehearsal<infer _Effect, infer Rows> ? Rows : never;

/** What one plan makes of its parts over rehearsed events. Plain data. */
export type PartEffects = { readonly [Key in keyof Rehearsals]: EffectOf<Rehearsals[Key]> };

/** What a rehearsal says of parts; absent in rehearsals from before it said anything of a part. */
export type RehearsedParts = { readonly [Key in keyof Rehearsals]?: RowsOf<Rehearsals[Key]> };

const keys = Object.keys(rehearsals) as readonly (keyof Rehearsals)[];

/** The effects of no events. */
export function newPartEffects(): PartEffects {
  return byKey((rehearsal) => rehearsal.begin()) as PartEffects;
}

/** Adds a batch that a plan has routed to the effects of its parts. */
export function addToParts(
  effects: PartEffects,
  plan: CompiledParts,
  routed: RoutedBatch,
  context: RouteContext,
): void {
  for (const key of keys) rehearsalOf(key).add(effects[key], plan, routed, context);
}

/** Adds all of `other`. */
export function mergeParts(effects: PartEffects, other: PartEffects): void {
  for (const key of keys) rehearsalOf(key).merge(effects[key], other[key]);
}

/** What both plans make of their parts; `seconds` is the time that was rehearsed. */
export function comparedParts(live: PartEffects, draft: PartEffects, seconds: number): RehearsedParts {
  return byKey((rehearsal, key) => rehearsal.compare(live[key], draft[key], seconds)) as RehearsedParts;
}

/** A rehearsal that is only given the effects that it began. */
function rehearsalOf(key: keyof Rehearsals): PartRehearsal<unknown, unknown> {
  return rehearsals[key] as PartRehearsal<unknown, unknown>;
}

function byKey(
  compute: (rehearsal: PartRehearsal<unknown, unknown>, key: keyof Rehearsals) => unknown,
): Readonly<Record<string, unknown>> {
  return Object.fromEntries(keys.map((key) => [key, compute(rehearsalOf(key), key)]));
}
