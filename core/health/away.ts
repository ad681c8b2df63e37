import { Cron } from 'croner';
import { compileCondition, conditionOf } from '../conditions/condition.ts';
import { labelsBatch } from '../events/labels-batch.ts';

/** An announced absence: once, or again and again by a schedule. Times in milliseconds. */
export interface Absence {
  /** A condition over source, emitter, fleet and labels that says who is away. */
  readonly scope: string;
  readonly from: number;
  /** End of a single window, and the last moment of a recurring one; null for none. */
  readonly to: number | null;
  /** Cron expression for the beginnings of a recurring window (UTC); empty for a single one. */
  readonly schedule: string;
  /** Length of each recurrence. */
  readonly length: number;
}

/** Who a maintenance window is asked about. */
export interface Subject {
  readonly source: string;
  readonly emitter: string;
  readonly labels: Readonly<Record<string, string>>;
  readonly fleets: readonly string[];
}

/**
 * Until when a subject is under maintenance (milliseconds); undefined when it is not at `now`. Windows whose scope or
 * schedule cannot be read are passed over: they were checked when they were made.
 */
export function awayUntil(windows: readonly Absence[], subject: Subject, now: number): number | undefined {
  const ends = windows.flatMap((window) => {
    const end = openUntil(window, now);
    return end !== undefined && inScope(window.scope, subject) ? [end] : [];
  });
  return ends.length > 0 ? Math.max(...ends) : undefined;
}

/** The end of a window that is open at `now`; undefined when it is closed. */
export function openUntil({ from, to, schedule, length }: Absence, now: number): number | undefined {
  if (now < from) return undefined;
  if (schedule === '') return to !== null && now < to ? to : undefined;
  if (to !== null && now >= to) return undefined;
  const begun = new Cron(schedule, { timezone: 'UTC' }).previousRuns(1, new Date(now + 1))[0];
  const end = begun ? begun.getTime() + length : 0;
  return now < end ? end : undefined;
}

function inScope(scope: string, { source, emitter, labels, fleets }: Subject): boolean {
  if (!compileCondition(scope).ok) return false;
  const batch = labelsBatch(source, labels, emitter);
  return conditionOf(scope).test(batch, { now: Date.now(), fleets })[0] === 1;
}
