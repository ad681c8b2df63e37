/** Where a question read events. */
export interface ReadSources {
  readonly sources: ReadonlySet<string>;
  readonly tiers: ReadonlySet<string>;
  /** The time of the oldest event that may have been read (milliseconds). */
  readonly oldest: number;
}

/** The sources and tiers of segments in which a question that begins at `from` (milliseconds) may have found events. */
export function readSources(
  segments: readonly { readonly source: string; readonly tier: string; readonly from: number }[],
  from: number,
): ReadSources {
  const sources = new Set<string>();
  const tiers = new Set<string>();
  let oldest = Number.POSITIVE_INFINITY;
  for (const segment of segments) {
    sources.add(segment.source);
    tiers.add(segment.tier);
    if (segment.from < oldest) oldest = segment.from;
  }
  return { sources, tiers, oldest: Math.max(from, oldest) };
}
