import { day } from '#core/events/time-units.ts';
import type { Chance } from './chance.ts';

/** The ports of the Skerry Line. */
export const ports = ['Skerryvoe', 'Tarnholm', 'Eilean Ruadh', 'Northsound', 'Gannet Bay'] as const;

export const vessels = ['Kittiwake', 'Razorbill', 'Sea Pink', 'Storm Petrel', 'Sandpiper'] as const;

/** Gate scanners: two to four a pier. */
export const gates = [1, 2, 3, 4, 5].flatMap((pier) =>
  Array.from({ length: pier === 4 ? 6 : 3 }, (_, i) => ({
    pier,
    name: `gate-p${pier}-${String(i + 1).padStart(2, '0')}`,
  })),
);

/** When the things happened that can be found in the demo; milliseconds. */
export interface Happenings {
  /** Two weeks back: where history begins. */
  readonly begin: number;
  /** Payments release 8.3, which writes some lines differently. */
  readonly release: number;
  /** harbour-partner begins to poll a hundred times as often. */
  readonly partner: number;
  /** The gate scanners of Pier 4 fall silent together. */
  readonly silence: number;
}

/** The happenings, given the time at which the demo was first started. */
export function happeningsOf(start: number): Happenings {
  const today = Math.floor(start / day) * day;
  return {
    begin: Math.floor((start - 14 * day) / 3_600_000) * 3_600_000,
    release: today - 3 * day + (14 * 60 + 2) * 60_000,
    partner: today - 5 * day + (9 * 60 + 40) * 60_000,
    silence: start - 41 * 60_000,
  };
}

const hours = [
  0.16, 0.12, 0.1, 0.1, 0.15, 0.35, 0.8, 1.25, 1.3, 1.05, 0.9, 0.85, 0.95, 0.9, 0.85, 0.95, 1.2, 1.35, 1.15, 0.85, 0.6,
  0.45, 0.32, 0.22,
];

/** How busy passengers are at a time: about 1 by day, little at night, more on Fridays and weekends. */
export function rhythm(time: number): number {
  const date = new Date(time);
  const hour = date.getUTCHours() + date.getUTCMinutes() / 60;
  const low = hours[Math.floor(hour)] as number;
  const high = hours[(Math.floor(hour) + 1) % 24] as number;
  const weekday = date.getUTCDay();
  const week = weekday === 5 ? 1.2 : weekday === 6 || weekday === 0 ? 1.3 : 1;
  return (low + (high - low) * (hour % 1)) * week;
}

/** An address from the ranges that are set aside for documentation (RFC 5737). */
export function address(chance: Chance): string {
  return `${chance.pick(['192.0.2', '198.51.100', '203.0.113'])}.${chance.whole(1, 254)}`;
}

/** A booking reference. */
export function reference(chance: Chance): string {
  return `SKL-${chance.whole(10_000, 99_999)}`;
}
