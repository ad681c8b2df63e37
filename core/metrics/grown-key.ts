import { hour } from '../events/time-units.ts';
import { isRest, type SeriesLabels } from './labels.ts';

/** How long (milliseconds) a limit counts as reached after something went beyond it. */
const shownFor = 24 * hour;

/** The key that brought more values than there is room for, and since when (milliseconds). */
export interface GrownKey {
  readonly key: string;
  readonly since: number;
}

/**
 * The key with the most values, of a metric whose limit of series was reached lately; undefined where it was not. Times in
 * milliseconds.
 */
export function grownKey(
  series: readonly { readonly labels: SeriesLabels; readonly firstSeen: number; readonly lastSeen: number }[],
  now: number,
): GrownKey | undefined {
  const beyond = series.find(({ labels, lastSeen }) => lastSeen > now - shownFor && isRest(Object.values(labels)));
  if (!beyond) return undefined;
  const values = new Map<string, Set<unknown>>();
  for (const { labels } of series)
    for (const [name, value] of Object.entries(labels)) {
      const known = values.get(name);
      if (known) known.add(value);
      else values.set(name, new Set([value]));
    }
  const [grown] = [...values].sort(([, a], [, b]) => b.size - a.size);
  return grown && { key: grown[0], since: beyond.firstSeen };
}
