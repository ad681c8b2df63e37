import { Cron } from 'croner';
import { compileCondition, conditionOf } from '#core/conditions/condition.ts';
import type { MaintenanceWindow } from '#store/maintenance.ts';
import { labelsBatch } from './labels-batch.ts';

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
export function awayUntil(windows: readonly MaintenanceWindow[], subject: Subject, now: number): number | undefined {
  const ends = windows.flatMap((window) => {
    const end = openUntil(window, now);
    return end !== undefined && inScope(window.scope, subject) ? [end] : [];
  });
  return ends.length > 0 ? Math.max(...ends) : undefined;
}

/** The end of a window that is open at `now`; undefined when it is closed. */
export function openUntil({ from, to, schedule, length }: MaintenanceWindow, now: number): number | undefined {
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
