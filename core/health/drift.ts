import { writeField } from '../conditions/write.ts';
import { severityWords, unknownSeverity } from '../events/severity.ts';
import { minute } from '../events/time-units.ts';
import { type FieldType, fadeProfile, mergeProfile, newProfile, type Profile } from './profile.ts';

/** A change in what a source sends. Times in milliseconds. */
export interface Drift {
  readonly kind:
    | 'field-appeared'
    | 'field-vanished'
    | 'type-changed'
    | 'severity-moved'
    | 'volume-moved'
    | 'volume-surged';
  /** The field it concerns; the severity of a moved mix; `above` or `below` for a volume. */
  readonly subject: string;
  /** In words, without the name of the source. */
  readonly text: string;
  /** The minute in which it began. */
  readonly since: number;
  /** A condition that picks the events which show it. */
  readonly shows: string;
}

/** What is known of a source, to see changes by. */
export interface DriftState {
  /** What its events look like, fading over about a day. */
  readonly usual: Profile;
  /** The minutes that are being compared, oldest first. */
  readonly recent: { readonly minute: number; readonly profile: Profile }[];
  /** Changes that were reported already, so that each is reported once. */
  readonly reported: Set<string>;
}

export function newDriftState(): DriftState {
  return { usual: newProfile(), recent: [], reported: new Set() };
}

/** Events that make the usual picture worth comparing with, and the recent one worth comparing. */
const enoughUsual = 300;
const enoughRecent = 30;
/** Minutes compared at most. */
const stretch = 30;
/** A field counts as usual from this share of events on, and as new from this share of recent ones. */
const usualShare = 0.2;
const newShare = 0.05;
/** How far the severity mix must move: half the sum of differences of shares. */
const severityDistance = 0.25;
/** Each minute fades what is usual by this share: half of it is gone after some ten hours. */
const fading = 0.999;

/** Takes in a minute that is over and returns the changes that have become visible with it. */
export function closeMinute(state: DriftState, start: number, profile: Profile): readonly Drift[] {
  if (profile.events === 0) return [];
  state.recent.push({ minute: start, profile });
  const sum = newProfile();
  for (const minute of state.recent) mergeProfile(sum, minute.profile);
  const drifts = state.usual.events >= enoughUsual && sum.events >= enoughRecent ? compare(state, sum) : [];
  if (sum.events >= enoughRecent || state.recent.length >= stretch) settle(state);
  return drifts;
}

/** The oldest minutes become part of what is usual; as many stay as make up a comparison. */
function settle(state: DriftState): void {
  let events = state.recent.reduce((total, { profile }) => total + profile.events, 0);
  while (state.recent.length > 1) {
    const oldest = state.recent[0] as DriftState['recent'][number];
    if (events - oldest.profile.events < enoughRecent && state.recent.length < stretch) return;
    events -= oldest.profile.events;
    state.recent.shift();
    fadeProfile(state.usual, fading);
    mergeProfile(state.usual, oldest.profile);
  }
}

function compare(state: DriftState, recent: Profile): readonly Drift[] {
  const { usual } = state;
  const drifts: Drift[] = [];
  const tell = (key: string, drift: () => Drift): void => {
    if (state.reported.has(key)) return;
    state.reported.add(key);
    drifts.push(drift());
  };
  for (const [name, before] of usual.fields) {
    const share = (before.number + before.text + before.flag) / usual.events;
    const now = recent.fields.get(name);
    if (share >= usualShare && !now) {
      tell(`vanished ${name}`, () => ({
        kind: 'field-vanished',
        subject: name,
        text: `the field ${name} vanished; ${percent(share)} of the events had it`,
        since: firstMinute(state, ({ fields }) => !fields.has(name)),
        shows: `not has ${writeField(name)}`,
      }));
    }
    if (now) state.reported.delete(`vanished ${name}`);
    const [typeBefore, typeNow] = [mainType(before), now && mainType(now)];
    if (typeNow && typeBefore !== typeNow && share >= newShare) {
      tell(`type ${name} ${typeNow}`, () => ({
        kind: 'type-changed',
        subject: name,
        text: `the field ${name} was ${typeBefore} and is now ${typeNow}`,
        since: firstMinute(state, ({ fields }) => {
          const counts = fields.get(name);
          return counts !== undefined && mainType(counts) === typeNow;
        }),
        shows: `has ${writeField(name)}`,
      }));
    }
  }
  for (const [name, counts] of recent.fields) {
    const share = (counts.number + counts.text + counts.flag) / recent.events;
    if (usual.fields.has(name) || share < newShare) continue;
    tell(`appeared ${name}`, () => ({
      kind: 'field-appeared',
      subject: name,
      text: `the field ${name} appeared; ${percent(share)} of the events have it`,
      since: firstMinute(state, ({ fields }) => fields.has(name)),
      shows: `has ${writeField(name)}`,
    }));
  }
  const moved = severityMove(usual, recent);
  if (!moved) for (const key of state.reported) if (key.startsWith('severity ')) state.reported.delete(key);
  if (moved) tell(`severity ${moved.word}`, () => moved.drift(state));
  return drifts;
}

function mainType(counts: { number: number; text: number; flag: number }): FieldType {
  if (counts.number >= counts.text && counts.number >= counts.flag) return 'number';
  return counts.text >= counts.flag ? 'text' : 'flag';
}

function severityMove(
  usual: Profile,
  recent: Profile,
): { readonly word: string; readonly drift: (state: DriftState) => Drift } | undefined {
  let distance = 0;
  let most = 0;
  let place = 0;
  for (let i = 0; i < 7; i++) {
    const difference =
      (recent.severities[i] as number) / recent.events - (usual.severities[i] as number) / usual.events;
    distance += Math.abs(difference) / 2;
    if (difference > most) {
      most = difference;
      place = i;
    }
  }
  if (distance < severityDistance) return undefined;
  const word = place === 0 ? unknownSeverity : (severityWords[place - 1] as string);
  const before = (usual.severities[place] as number) / usual.events;
  const now = (recent.severities[place] as number) / recent.events;
  return {
    word,
    drift: (state) => ({
      kind: 'severity-moved',
      subject: word,
      text: `${percent(now)} of the events are ${word}; ${percent(before)} were before`,
      since: firstMinute(
        state,
        (profile) => (profile.severities[place] as number) / profile.events > (before + now) / 2,
      ),
      shows: `severity = ${word}`,
    }),
  };
}

/** The minute from which on all recent ones show a change. */
function firstMinute(state: DriftState, shows: (profile: Profile) => boolean): number {
  let since = state.recent[state.recent.length - 1]?.minute ?? 0;
  for (let i = state.recent.length - 1; i >= 0; i--) {
    const { minute: start, profile } = state.recent[i] as DriftState['recent'][number];
    if (!shows(profile)) break;
    since = start;
  }
  return Math.floor(since / minute) * minute;
}

function percent(share: number): string {
  return share > 0.995 ? 'all' : share < 0.005 ? 'none' : `${Math.round(share * 100)} %`;
}
