import type { SourceFacts, SourceView } from '../answers/sources.ts';
import { day, hour } from '../events/time-units.ts';
import type { FollowedView } from '../health/views.ts';
import { amountOf, shareOf, type VolumeSum } from '../routing/volume-sums.ts';
import { grouped } from '../tables/grouped.ts';

/** What the list of sources is made of. Times in milliseconds. */
export interface SourcesInput {
  readonly sources: readonly SourceFacts[];
  /** The last day by source and parsed, by the hour. */
  readonly hours: readonly VolumeSum[];
  /** The week before it by source, by the hour. */
  readonly weekly: readonly VolumeSum[];
  readonly seen: ReadonlyMap<string, { readonly first: number; readonly last: number }>;
  readonly followed: readonly FollowedView[];
  readonly now: number;
}

/** All sources with what they send, how they are, and who among their emitters needs someone. */
export function sourceViews({ sources, hours, weekly, seen, followed, now }: SourcesInput): readonly SourceView[] {
  const bySource = grouped(followed, ({ source }) => source);
  const hoursOf = grouped(hours, ({ source = '' }) => source);
  const weekOf = grouped(weekly, ({ source = '' }) => source);
  const first = Math.floor((now - day) / hour) * hour + hour;
  return sources.map((source) => {
    const sums = hoursOf.get(source.name) ?? [];
    const total = amountOf(sums);
    const views = bySource.get(source.name) ?? [];
    const whole = views.find(({ emitter }) => emitter === '');
    const emitters = views.filter(({ emitter }) => emitter !== '');
    const count = (state: string): number => emitters.filter(({ health }) => health.state === state).length;
    return {
      ...source,
      eventsPerSecond: whole?.eventsPerSecond ?? 0,
      bytesPerSecond: whole?.bytesPerSecond ?? 0,
      typicalPerSecond: typicalAt(weekOf.get(source.name) ?? [], now),
      day: total,
      parsedShare: shareOf(amountOf(sums.filter((sum) => sum.parsed)).events, total.events),
      lastSeen: whole?.lastSeen ?? seen.get(source.name)?.last ?? null,
      firstSeen: whole?.firstSeen ?? seen.get(source.name)?.first ?? null,
      health: whole?.health ?? null,
      emitters: { all: emitters.length, silent: count('silent'), late: count('late'), fresh: count('new') },
      spark: Array.from(
        { length: 23 },
        (_, i) => amountOf(sums.filter((sum) => sum.start === first + i * hour)).events,
      ),
    };
  });
}

/**
 * Events a second that are typical for the hour of the week that `now` (milliseconds) falls into: of the same hour a week
 * ago, or of the same hours of the week's other days; null where neither is known. `sums` are by the hour.
 */
export function typicalAt(sums: readonly VolumeSum[], now: number): number | null {
  const start = Math.floor(now / hour) * hour;
  const lastWeek = sums.filter((sum) => sum.start === start - 7 * day);
  const sameHour = lastWeek.length > 0 ? lastWeek : sums.filter((sum) => (start - sum.start) % day === 0);
  return sameHour.length > 0 ? amountOf(sameHour).events / sameHour.length / 3600 : null;
}
