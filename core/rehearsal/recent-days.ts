import type { DaySeries } from '../costs/day-series.ts';
import { entryOf } from '../tables/entry-of.ts';

/** Volume of each recent full day, earliest first. */
export interface DailyVolume {
  readonly events: Float64Array;
  readonly bytes: Float64Array;
}

/** Daily volume of a source, in total and by shape. */
export interface SourceDays {
  readonly all: DailyVolume;
  readonly shapes: ReadonlyMap<string, DailyVolume>;
  /** Index of the first day with events. */
  readonly first: number;
}

/** The last full days, at most {@link mostDays}. */
export interface RecentDays {
  /** The number of days; 0 in an installation younger than a day. */
  readonly count: number;
  readonly sources: ReadonlyMap<string, SourceDays>;
}

/** Of an installation without a full day of data. */
export const noRecentDays: RecentDays = { count: 0, sources: new Map() };

/** The most days used to estimate day-to-day variation: each weekday twice. */
export const mostDays = 14;

interface SourceSums {
  readonly all: DailyVolume;
  readonly shapes: Map<string, DailyVolume>;
}

/** The days before `today` (in days since 1970), starting with the first that has events, from daily volumes by shape. */
export function recentDays(series: readonly DaySeries[], today: number): RecentDays {
  const from = today - mostDays;
  const sources = new Map<string, SourceSums>();
  for (const { source, shape, from: begins, events, bytes } of series)
    for (let at = Math.max(0, from - begins); at < bytes.length && begins + at < today; at++) {
      const day = begins + at - from;
      const volume = { events: events[at] as number, bytes: bytes[at] as number };
      if (volume.events === 0 && volume.bytes === 0) continue;
      const sums = entryOf(sources, source, (): SourceSums => ({ all: noDays(), shapes: new Map() }));
      addDay(sums.all, day, volume);
      if (shape !== '') addDay(entryOf(sums.shapes, shape, noDays), day, volume);
    }
  const firsts = [...sources.values()].map(({ all }) => firstDay(all));
  const skipped = firsts.length > 0 ? Math.min(...firsts) : mostDays;
  return {
    count: mostDays - skipped,
    sources: new Map(
      [...sources].map(([source, { all, shapes }]) => [
        source,
        {
          all: daysFrom(all, skipped),
          shapes: new Map([...shapes].map(([shape, volume]) => [shape, daysFrom(volume, skipped)])),
          first: firstDay(all) - skipped,
        },
      ]),
    ),
  };
}

function noDays(): DailyVolume {
  return { events: new Float64Array(mostDays), bytes: new Float64Array(mostDays) };
}

function addDay(
  { events, bytes }: DailyVolume,
  day: number,
  more: { readonly events: number; readonly bytes: number },
) {
  events[day] = (events[day] as number) + more.events;
  bytes[day] = (bytes[day] as number) + more.bytes;
}

function firstDay({ bytes, events }: DailyVolume): number {
  const first = bytes.findIndex((value, day) => value > 0 || (events[day] as number) > 0);
  return first < 0 ? mostDays : first;
}

function daysFrom({ events, bytes }: DailyVolume, from: number): DailyVolume {
  return { events: events.slice(from), bytes: bytes.slice(from) };
}
