import type { SilentGroup } from './common-cause.ts';
import type { Health } from './state.ts';

/** A source (empty emitter) or an emitter with how it is, as the engine tells it. Times in milliseconds. */
export interface FollowedView {
  readonly source: string;
  readonly emitter: string;
  readonly health: Health;
  readonly firstSeen: number;
  readonly lastSeen: number;
  readonly events: number;
  readonly parsedShare: number;
  readonly eventsPerSecond: number;
  readonly bytesPerSecond: number;
  /** Mean and extremes of arrival minus the event's own time; below 0 its clock is ahead. */
  readonly lateness: number;
  readonly latenessLeast: number;
  readonly latenessMost: number;
  /** Numbers missing in its sequence, and events that came twice. */
  readonly missing: number;
  readonly duplicates: number;
  /** What all its events say alike. */
  readonly traits: Readonly<Record<string, string>>;
  readonly retired: boolean;
  readonly expectedBack: number | null;
}

/** Emitters that fell silent together, by name, with what they share. */
export interface GroupView extends Omit<SilentGroup, 'members'> {
  readonly members: readonly { readonly source: string; readonly emitter: string; readonly lastHeard: number }[];
}

/** Health of everything that is followed, and the groups of those that fell silent together. */
export interface HealthAnswer {
  readonly at: number;
  readonly followed: readonly FollowedView[];
  readonly groups: readonly GroupView[];
  /** Emitters that could not be followed for want of room. */
  readonly leftOut: number;
}
