import type { RouteContext, RoutedBatch } from '../../routing/route.ts';
import type { CompiledParts } from './compiled-parts.ts';

/**
 * What a rehearsal computes of a part beyond the volume that its plan keeps. An effect is plain data: threads compute some of
 * it each, and what they have is added up.
 */
export interface PartRehearsal<Effect, Rows> {
  /** The effect of no events. */
  readonly begin: () => Effect;
  /** Adds a batch that a plan has routed. */
  readonly add: (effect: Effect, plan: CompiledParts, routed: RoutedBatch, context: RouteContext) => void;
  /** Adds all of another effect. */
  readonly merge: (effect: Effect, other: Effect) => void;
  /** What the answer says of it; `seconds` is the time that was rehearsed. */
  readonly compare: (live: Effect, draft: Effect, seconds: number) => Rows;
}
