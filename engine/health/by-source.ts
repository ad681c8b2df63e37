import type { SentBytes } from '#core/health/volume-band.ts';

/** Bytes received, by source. Sums without received bytes are left out: they record storage of events that arrived later. */
export function bySource(
  sums: readonly (SentBytes & { readonly source?: string })[],
): ReadonlyMap<string, readonly SentBytes[]> {
  const lists = new Map<string, SentBytes[]>();
  for (const { source = '', start, bytes } of sums) {
    if (bytes === 0) continue;
    const list = lists.get(source);
    if (list) list.push({ start, bytes });
    else lists.set(source, [{ start, bytes }]);
  }
  return lists;
}
