import type { EventBatch } from '../events/batch.ts';
import { spreadHash } from '../events/spread-hash.ts';
import { encode, hashBytes } from '../events/text-table.ts';
import type { PipelineContext } from '../pipelines/run-pipelines.ts';
import { passingTier } from './built-in-tiers.ts';
import type { CompiledExclusion, CompiledTier } from './compiled-tier.ts';
import type { Routing } from './fate.ts';

/** The rows of a batch that a tier has taken. */
export interface TakenRows {
  readonly batch: EventBatch;
  /** By row: 1 for those taken. Rows that an exclusion decides on become 0. */
  readonly isTaken: Uint8Array;
  readonly context: PipelineContext & { readonly random: () => number };
}

/** What exclusions change of a routing. */
type Excluding = Pick<Routing, 'fates' | 'fateOf' | 'weight'>;

/** Applies the exclusions of a tier to the rows that it has taken; the first one that matches an event decides. */
export function exclude(tier: CompiledTier, taken: TakenRows, routing: Excluding): void {
  for (const exclusion of tier.exclusions)
    if (taken.context.now < exclusion.until) excludeBy({ tier: tier.id, exclusion }, taken, routing);
}

function excludeBy(
  { tier, exclusion }: { readonly tier: string; readonly exclusion: CompiledExclusion },
  { batch, isTaken, context }: TakenRows,
  { fates, fateOf, weight }: Excluding,
): void {
  const matched = exclusion.when.test(batch, context);
  const { oneIn } = exclusion;
  const outcome = oneIn === 0 ? 'excluded' : 'sampled-out';
  // What a kept event stands for must not be found a second time, so only exclusion without rest goes to passing.
  const storedIn = oneIn === 0 ? passingTier.id : undefined;
  const left = fates.push({ outcome, tier, rule: exclusion.id, storedIn }) - 1;
  // What it keeps is counted under its name too, so that what it matches is known.
  const kept = fates.push({ outcome: 'kept', tier, rule: exclusion.id, storedIn: tier }) - 1;
  const keyed = exclusion.by === undefined ? undefined : keyHash(batch, exclusion.by);
  for (let row = 0; row < matched.length; row++) {
    if (matched[row] === 0 || isTaken[row] === 0) continue;
    isTaken[row] = 0;
    if (oneIn === 1) {
      fateOf[row] = kept;
      continue;
    }
    const hash = oneIn > 0 ? keyed?.(row) : undefined;
    // The same key is kept in all shares that are greater than one in which it is.
    const chance = hash === undefined ? context.random() : hash / 4_294_967_296;
    const keep = oneIn > 0 && chance * oneIn < 1;
    if (keep) weight[row] = (weight[row] as number) * oneIn;
    fateOf[row] = keep ? kept : left;
  }
}

/**
 * A hash of each row's value of an attribute, the same in every engine, source and tier, be the value a text or a number;
 * undefined for rows without it, which are left to chance.
 */
function keyHash(batch: EventBatch, name: string): (row: number) => number | undefined {
  const columns = batch.attributes.get(name);
  return (row) => {
    const code = columns?.text?.codes[row] ?? -1;
    if (columns?.text && code >= 0) {
      const { bytes, offsets } = columns.text.table;
      return spreadHash(hashBytes(bytes, offsets[code] as number, offsets[code + 1] as number));
    }
    const number = columns?.number?.values[row] ?? Number.NaN;
    if (number !== number) return undefined;
    const text = encode(String(number));
    return spreadHash(hashBytes(text, 0, text.length));
  };
}
