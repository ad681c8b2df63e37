import type { SentBytes } from '#core/health/volume-band.ts';

/** Sums of the ledger by source. */
export function bySource(
  sums: readonly (SentBytes & { readonly source?: string })[],
): ReadonlyMap<string, readonly SentBytes[]> {
  const lists = new Map<string, SentBytes[]>();
  for (const { source = '', start, bytes } of sums) {
    const list = lists.get(source);
    if (list) list.push({ start, bytes });
    else lists.set(source, [{ start, bytes }]);
  }
  return lists;
}
