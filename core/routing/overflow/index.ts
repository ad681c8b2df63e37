import type { OverflowKind } from './overflow.ts';
import { passing } from './passing.ts';
import { refuse } from './refuse.ts';
import { sample } from './sample.ts';
import { tier } from './tier.ts';

/** All that can become of events past the cap of their tier, by name, in the order in which they are offered. */
export const overflowKinds: ReadonlyMap<string, OverflowKind> = new Map(
  [passing, tier, sample, refuse].map((kind) => [kind.kind, kind]),
);
