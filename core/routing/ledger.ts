import { day, hour } from '../events/time-units.ts';

/**
 * What can become of an event: each meets exactly one of these fates. `expired`: its tier had let it go before it came.
 * `overflowed`: its tier had taken what it may take on that day.
 */
export const outcomes = [
  'kept',
  'excluded',
  'sampled-out',
  'passing',
  'rejected',
  'discarded',
  'expired',
  'overflowed',
  'lost',
] as const;

export type Outcome = (typeof outcomes)[number];

/** The fates of events that an exclusion takes away. */
export const excludedOutcomes = ['excluded', 'sampled-out'] as const satisfies readonly Outcome[];

/** A line of the volume ledger: what arrived from a source in a stretch of time and met the same fate. */
export interface LedgerEntry {
  /** Start of the stretch, in milliseconds: a minute, an hour for what is older than {@link minuteSpan}, a day beyond {@link hourSpan}. */
  readonly start: number;
  readonly source: string;
  readonly outcome: Outcome;
  /** The tier that took the event; empty when none did. */
  readonly tier: string;
  /** The exclusion or step that decided; empty when none did. */
  readonly rule: string;
  readonly parsed: boolean;
  /** Arrived events (weights counted). */
  events: number;
  /** Their bytes as they arrived. */
  bytes: number;
  /** Bytes taken in the store, compressed. */
  stored: number;
}

/** For how long the ledger keeps minutes apart, in milliseconds; older volume is counted by the hour. */
export const minuteSpan = 25 * hour;

/** For how long it keeps hours apart, in milliseconds (13 months); older volume is counted by the day. */
export const hourSpan = 396 * day;

/** Start of the stretch of the ledger that a time belongs to. */
export function ledgerStart(time: number, now: number): number {
  const step = stepAt(time, now);
  return Math.floor(time / step) * step;
}

/** How long the stretches of a time are, in milliseconds. */
function stepAt(time: number, now: number): number {
  if (time < now - hourSpan) return 86_400_000;
  return time < now - minuteSpan ? 3_600_000 : 60_000;
}

/**
 * The whole stretches of the ledger that a window touches (milliseconds, `to` exclusive): minutes, where it begins before those are
 * kept hours, and before these days. It ends with `now` at the latest, as the last stretch is still being filled; it has to begin before.
 */
export function ledgerWindow(
  { from, to }: { readonly from: number; readonly to: number },
  now: number,
): { readonly from: number; readonly to: number } {
  const step = stepAt(from, now);
  return { from: ledgerStart(from, now), to: Math.min(now, Math.ceil(to / step) * step) };
}

/** The volume of a kind of line that arrived from a source in a stretch of time and met the same fate. */
export interface ShapeVolume {
  /** Start of the stretch, as in {@link LedgerEntry}. */
  readonly start: number;
  readonly shape: string;
  readonly source: string;
  readonly tier: string;
  readonly outcome: Outcome;
  /** Severity class: 0 unset, 1 trace … 6 fatal. */
  readonly severity: number;
  /** Arrived events (weights counted). */
  readonly events: number;
  /** Their bytes as they arrived. */
  readonly bytes: number;
}

/** Adds up ledger entries that share everything but their figures. */
export class Ledger {
  private readonly entries = new Map<string, LedgerEntry>();

  /** Adds the figures of an entry to the one it shares its key with. */
  add(entry: LedgerEntry): void {
    const key = `${entry.start}|${entry.source}|${entry.outcome}|${entry.tier}|${entry.rule}|${entry.parsed}`;
    const known = this.entries.get(key);
    if (!known) {
      this.entries.set(key, { ...entry });
      return;
    }
    known.events += entry.events;
    known.bytes += entry.bytes;
    known.stored += entry.stored;
  }

  list(): readonly LedgerEntry[] {
    return [...this.entries.values()];
  }
}
