import { hour } from '../events/time-units.ts';
import { formatDuration } from '../events/units.ts';
import { type Expectation, expectationOf, type Rhythm, workingTime } from './rhythm.ts';

/** How an emitter or a source is. */
export type HealthState = 'new' | 'steady' | 'late' | 'silent' | 'maintenance' | 'retired';

/** A state with its reason. Times in milliseconds. */
export interface Health {
  readonly state: HealthState;
  /** In words: `reports every 16 s; nothing for 9 min; expected within 70 s`. */
  readonly reason: string;
  /** Since when nothing came; for silent and late ones. */
  readonly since?: number;
  /** When the silence could have been noticed at the earliest. */
  readonly noticedAt?: number;
  readonly expected?: Expectation;
}

/** What people have said of an emitter or a source. Times in milliseconds. */
export interface Plans {
  /** It will not come back. */
  readonly retired: boolean;
  /** The end of a maintenance window that is open now. */
  readonly maintenanceUntil?: number;
  /** When it is expected back, after an absence that was announced. */
  readonly expectedBack?: number;
  /** Nothing is ever expected of it: it is what someone uploaded. */
  readonly unexpected?: boolean;
}

/** For so long after it was first heard an emitter is new, in milliseconds. */
export const newFor = 24 * hour;

/** Judges an emitter by its own rhythm. `now` in milliseconds. */
export function healthOf(rhythm: Rhythm, now: number, plans: Plans): Health {
  const expected = plans.unexpected ? undefined : expectationOf(rhythm);
  if (plans.retired) return { state: 'retired', reason: `retired; last heard ${ago(now - rhythm.last)} ago` };
  if (plans.maintenanceUntil !== undefined && now < plans.maintenanceUntil) {
    return { state: 'maintenance', reason: `under maintenance for another ${ago(plans.maintenanceUntil - now)}` };
  }
  if (plans.expectedBack !== undefined && now < plans.expectedBack && rhythm.last < now) {
    const gap = workingTime(rhythm, rhythm.last, now);
    if (expected && gap > expected.late)
      return { state: 'maintenance', reason: `away as announced; expected back in ${ago(plans.expectedBack - now)}` };
  }
  const age = now - rhythm.first;
  if (!expected) {
    const heard = `heard ${rhythm.events === 1 ? 'once' : `${rhythm.events} times`}`;
    const why = plans.unexpected ? 'uploaded: nothing more is expected' : 'its rhythm is not known yet';
    const state = plans.unexpected && now - rhythm.first >= newFor ? 'steady' : 'new';
    return { state, reason: `${heard}, ${ago(now - rhythm.last)} ago; ${why}` };
  }
  const rhythmText = `reports every ${ago(expected.interval)}`;
  const quiet = now - rhythm.last;
  if (age < newFor) {
    const reason = `first heard ${ago(age)} ago; ${rhythmText}`;
    if (quiet <= expected.silent) return { state: 'new', reason, expected };
    // Its nights are not known yet: this may be one, so it is not called silent.
    const more = `; nothing for ${ago(quiet)}, which may be its rest`;
    return { state: 'late', reason: reason + more, since: rhythm.last, expected };
  }
  if (quiet <= expected.late)
    return { state: 'steady', reason: `${rhythmText}; last heard ${ago(quiet)} ago`, expected };
  const worked = workingTime(rhythm, rhythm.last, now);
  if (worked <= expected.late) {
    const rest = worked < quiet * 0.5 ? '; it rests at this time of the week' : '';
    return { state: 'steady', reason: `${rhythmText}; nothing for ${ago(quiet)}${rest}`, expected };
  }
  const reason = `${rhythmText}; nothing for ${ago(quiet)}; expected within ${ago(expected.silent)}`;
  const since = rhythm.last;
  if (worked <= expected.silent) return { state: 'late', reason, since, expected };
  return { state: 'silent', reason, since, noticedAt: now - (worked - expected.silent), expected };
}

function ago(milliseconds: number): string {
  return formatDuration(milliseconds < 100_000 ? Math.round(milliseconds / 100) / 10 : Math.round(milliseconds / 1000));
}
