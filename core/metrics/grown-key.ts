import type { SeriesLabels } from './labels.ts';
import { hour } from './levels.ts';

/** How long (milliseconds) a limit counts as reached after something went beyond it. */
const toldFor = 24 * hour;

/**
 * The key with the most values, of a metric whose limit of series was reached lately; empty where it was not. `now` and
 * `lastSeen` in milliseconds.
 */
export function grownKey(
  series: readonly { readonly labels: SeriesLabels; readonly lastSeen: number }[],
  now: number,
): string {
  const beyond = series.some(
    ({ labels, lastSeen }) => lastSeen > now - toldFor && Object.values(labels).every((value) => value === true),
  );
  if (!beyond) return '';
  const values = new Map<string, Set<unknown>>();
  for (const { labels } of series)
    for (const [name, value] of Object.entries(labels)) {
      const known = values.get(name);
      if (known) known.add(value);
      else values.set(name, new Set([value]));
    }
  const [grown] = [...values].sort(([, a], [, b]) => b.size - a.size);
  return grown?.[0] ?? '';
}
