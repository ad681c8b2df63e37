import { holdingTier } from '../routing/holding-tier.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';

/**
 * Sums of the ledger with what of them is stored where it belongs: the ledger counts that by source and tier alone, what is not
 * kept with what passes. Among the sums of a stretch, a source and such a place it is shared by their bytes, in whole bytes.
 */
export function sharedStored(sums: readonly VolumeSum[]): readonly VolumeSum[] {
  const places = new Map<string, VolumeSum[]>();
  for (const sum of sums) {
    const { start, source = '', outcome = '', tier = '' } = sum;
    const key = `${start}\n${source}\n${holdingTier({ outcome, tier })}`;
    const known = places.get(key);
    if (known) known.push(sum);
    else places.set(key, [sum]);
  }
  return [...places.values()].flatMap(shared);
}

function shared(sums: readonly VolumeSum[]): readonly VolumeSum[] {
  const bytes = sums.reduce((all, sum) => all + sum.bytes, 0);
  if (bytes <= 0) return sums;
  const stored = sums.reduce((all, sum) => all + sum.stored, 0);
  let [before, given] = [0, 0];
  return sums.map((sum) => {
    before += sum.bytes;
    const until = Math.round((stored * before) / bytes);
    const part = until - given;
    given = until;
    return { ...sum, stored: part };
  });
}
