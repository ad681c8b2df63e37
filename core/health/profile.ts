import type { EventBatch } from '../events/batch.ts';
import { missingFlag } from '../events/columns.ts';
import { severityClass, severityClasses } from '../events/severity.ts';

/** Types that a field's values have been seen with. */
export type FieldType = 'number' | 'text' | 'flag';

/** What some events of a source look like: which fields they have, and how severe they are. Plain data. */
export interface Profile {
  events: number;
  /** By field and type: how many events had it. */
  readonly fields: Map<string, { number: number; text: number; flag: number }>;
  /** By severity class: unset, trace … fatal. */
  readonly severities: Float64Array;
}

/** Most fields told apart. */
export const mostProfileFields = 400;

export function newProfile(): Profile {
  return { events: 0, fields: new Map(), severities: new Float64Array(severityClasses) };
}

/** Adds the events of a batch. */
export function addToProfile(profile: Profile, batch: EventBatch): void {
  profile.events += batch.rows;
  for (let row = 0; row < batch.rows; row++) {
    const place = severityClass(batch.severity[row] as number);
    profile.severities[place] = (profile.severities[place] as number) + 1;
  }
  for (const [name, { number, text, flag }] of batch.attributes) {
    const counts = fieldOf(profile, name);
    if (!counts) continue;
    if (number) for (const value of number.values) if (value === value) counts.number++;
    if (text) for (const code of text.codes) if (code >= 0) counts.text++;
    if (flag) for (const value of flag.values) if (value !== missingFlag) counts.flag++;
  }
}

function fieldOf(profile: Profile, name: string): { number: number; text: number; flag: number } | undefined {
  let counts = profile.fields.get(name);
  if (!counts && profile.fields.size < mostProfileFields) {
    counts = { number: 0, text: 0, flag: 0 };
    profile.fields.set(name, counts);
  }
  return counts;
}

/** Adds `share` (0 to 1) of `other` to a profile. */
export function mergeProfile(profile: Profile, other: Profile, share = 1): void {
  profile.events += other.events * share;
  other.severities.forEach((count, place) => {
    profile.severities[place] = (profile.severities[place] as number) + count * share;
  });
  for (const [name, counts] of other.fields) {
    const sum = fieldOf(profile, name);
    if (!sum) continue;
    sum.number += counts.number * share;
    sum.text += counts.text * share;
    sum.flag += counts.flag * share;
  }
}

/** Lets a profile fade: everything counts only `share` of what it did. */
export function fadeProfile(profile: Profile, share: number): void {
  profile.events *= share;
  profile.severities.forEach((count, place) => {
    profile.severities[place] = count * share;
  });
  for (const [name, counts] of profile.fields) {
    counts.number *= share;
    counts.text *= share;
    counts.flag *= share;
    if (counts.number + counts.text + counts.flag < 0.01) profile.fields.delete(name);
  }
}
