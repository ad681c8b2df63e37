import { array, mixed, number, object, string, tuple } from 'yup';
import { fitted } from '../events/fitted.ts';
import { day, minute } from '../events/time-units.ts';
import type { CauseMember } from './common-cause.ts';
import type { HeardEmitter } from './heard.ts';
import { HourVolumes } from './hour-volumes.ts';
import { mostTraits, type Observation } from './observe.ts';
import { type PackedRhythm, packRhythm, unpackRhythm } from './pack-rhythm.ts';
import { RecentRates } from './recent-rates.ts';
import { learn, newRhythm, type Rhythm } from './rhythm.ts';
import { healthOf, type Plans } from './state.ts';
import type { FollowedView } from './views.ts';

/** Most emitters that are followed, and most of one source; further ones are counted, their events kept as all others. */
export const mostEmitters = 20_000;
export const mostOfSource = 5_000;
/** Longest name of an emitter, in characters; longer ones are cut. */
export const longestEmitterName = 190;
/** Emitters that were silent for so long give up their place (milliseconds). */
const staleAfter = 30 * day;

/** What is known of an emitter; with an empty name, of a source as a whole. */
interface Followed {
  readonly source: string;
  readonly name: string;
  /** Where its rates and volumes are counted. */
  readonly place: number;
  readonly rhythm: Rhythm;
  parsed: number;
  /** Mean and extremes of arrival minus own time, the mean fading; milliseconds. */
  lateness: number;
  latenessLeast: number;
  latenessMost: number;
  missing: number;
  duplicates: number;
  lastNumber: number;
  readonly traits: Map<string, string>;
  /** Names of attributes whose value changed: no traits. */
  readonly changing: Set<string>;
  retired: boolean;
  expectedBack: number | null;
  dirty: boolean;
}

const facts = object({
  rhythm: mixed<PackedRhythm>().required(),
  parsed: number().default(0),
  lateness: number().default(0),
  latenessLeast: number().nullable().default(null),
  latenessMost: number().nullable().default(null),
  missing: number().default(0),
  duplicates: number().default(0),
  lastNumber: number().nullable().default(null),
  traits: array(tuple([string().required(), string().required()]).required()).default([]),
  changing: array(string().required()).default([]),
});

/** How much of a mean each new observation is. */
const freshShare = 0.05;

/** What a source sends now. */
export interface SourceRate {
  readonly source: string;
  readonly events: number;
  readonly bytes: number;
  readonly last: number;
}

/** An emitter as it is kept; `facts` are for {@link Emitters.know} alone. */
export interface KnownEmitter {
  readonly source: string;
  /** Empty for the source as a whole. */
  readonly name: string;
  readonly firstSeen: number;
  readonly lastSeen: number;
  readonly facts: unknown;
}

/** What people say of an emitter: that it will not come back, or when it is expected (milliseconds). */
export interface Absences {
  readonly retired: boolean;
  readonly expectedBack: number | null;
}

/** What an emitter sent in the hour that begins at `start` (milliseconds). */
export interface EmitterHour {
  readonly start: number;
  readonly source: string;
  readonly name: string;
  readonly events: number;
  readonly bytes: number;
}

/** What was learnt since the last time it was asked for. */
export interface Learnt {
  readonly emitters: readonly KnownEmitter[];
  readonly volumes: readonly EmitterHour[];
  /** Has it asked for again the next time: it could not be saved. */
  readonly undo: () => void;
}

/** All sources and emitters that are followed: their rhythm, rates and traits, learnt from what deliveries reported. */
export class Emitters {
  /** Emitters that could not be followed. */
  leftOut = 0;
  /** By source and name. */
  private readonly sources = new Map<string, Map<string, Followed>>();
  /** All of them, each at its place. */
  private readonly places: Followed[] = [];
  /** Places that were given up. */
  private readonly freePlaces: number[] = [];
  /** While everything is known anew: the places that emitters had. */
  private readonly former = new Map<string, number>();
  private nextLetGo = 0;
  private readonly rates = new RecentRates();
  /** What came since it was last asked for, and before that. */
  private volumes = new HourVolumes();
  private volumesBefore = new HourVolumes();

  /** Takes up what was learnt before, in place of what is known of the emitter. Rates stay: they are of the last minute. */
  know(row: KnownEmitter & Absences, now: number): void {
    // One that no place is kept for is met as a new one, and found to be known when it is saved.
    const isStale = row.lastSeen < now - staleAfter && row.name !== '' && !row.retired && row.expectedBack === null;
    if (isStale) return;
    const kept = facts.cast(row.facts);
    const rhythm = unpackRhythm(kept.rhythm);
    rhythm.first = Math.min(rhythm.first, row.firstSeen);
    const place = this.former.get(keyOf(row.source, row.name)) ?? this.places.length;
    this.follow({
      ...newFollowed(row.source, row.name, rhythm.first, place),
      rhythm,
      parsed: kept.parsed,
      lateness: kept.lateness,
      latenessLeast: kept.latenessLeast ?? Number.POSITIVE_INFINITY,
      latenessMost: kept.latenessMost ?? Number.NEGATIVE_INFINITY,
      missing: kept.missing,
      duplicates: kept.duplicates,
      lastNumber: kept.lastNumber ?? Number.NaN,
      traits: new Map(kept.traits as [string, string][]),
      changing: new Set(kept.changing),
      retired: row.retired,
      expectedBack: row.expectedBack,
      dirty: false,
    });
  }

  /** Forgets everything but the rates of the last minute; it is to be known anew, until {@link knownAnew}. */
  forgetAll(): void {
    for (const { source, name, place } of this.followed()) this.former.set(keyOf(source, name), place);
    this.sources.clear();
    this.volumes = new HourVolumes();
    this.volumesBefore = new HourVolumes();
  }

  /** Gives up the places of those who are not known any more. */
  knownAnew(): void {
    for (const place of this.former.values()) if (!this.isFollowed(place)) this.freePlaces.push(place);
    this.former.clear();
  }

  /** Takes up what people say of an emitter. */
  plan(source: string, name: string, plans: Absences): void {
    const followed = this.sources.get(source)?.get(name);
    if (followed) Object.assign(followed, plans);
  }

  /** Follows a source and its emitters no longer, and loses what was learnt of them and not asked for. Their places stay taken. */
  forget(source: string): void {
    this.sources.delete(source);
  }

  /** Takes in what a delivery of a source reported, at `now` (milliseconds). */
  observe(source: string, observed: readonly Observation[], backfill: boolean, now: number): void {
    let followed = this.sources.get(source);
    for (const observation of observed) {
      this.take(source, followed, observation, backfill, now);
      followed ??= this.sources.get(source);
    }
  }

  /** Everything that is known, at `now` (milliseconds); of one source when given. */
  views(
    now: number,
    plansOf: (view: { source: string; emitter: string }) => Partial<Plans>,
    source?: string,
  ): readonly FollowedView[] {
    return [...this.followed(source)].map((followed) => {
      const plans = plansOf({ source: followed.source, emitter: followed.name });
      return viewOf(followed, now, this.rates.rate(followed.place, now), plans);
    });
  }

  /** Events and bytes a second of each source as a whole over the last minute, and when it was last heard (milliseconds). */
  sourceRates(now: number): readonly SourceRate[] {
    return [...this.sources].flatMap(([source, emitters]) => {
      const whole = emitters.get('');
      return whole ? [{ source, ...this.rates.rate(whole.place, now), last: whole.rhythm.last }] : [];
    });
  }

  /** The emitters of a source; that with an empty name is the source as a whole. */
  emittersOf(source: string): readonly HeardEmitter[] {
    return [...this.followed(source)];
  }

  /** Who of a source was heard in which hour, of what was learnt lately and may not be saved. */
  *heardLately(source: string): Iterable<EmitterHour> {
    for (const volumes of [this.volumes, this.volumesBefore])
      for (const hour of this.hoursOf(volumes)) if (hour.source === source) yield hour;
  }

  /** What was learnt since the last time; to be saved. */
  takeLearnt(): Learnt {
    const dirty = [...this.followed()].filter((followed) => followed.dirty);
    const volumes = [...this.hoursOf(this.volumes)];
    const volumesTaken = this.volumes;
    this.volumes = new HourVolumes();
    for (const followed of dirty) followed.dirty = false;
    return {
      emitters: dirty.map(rowOf),
      volumes,
      undo: () => {
        for (const followed of dirty) followed.dirty = true;
        for (const { place, start, events, bytes } of volumesTaken.list())
          this.volumes.add(place, start, events, bytes);
      },
    };
  }

  /** Keeps no more than is needed of what another engine saves. */
  letOthersSave(): void {
    this.volumesBefore = this.volumes;
    this.volumes = new HourVolumes();
  }

  private *hoursOf(volumes: HourVolumes): Iterable<EmitterHour> {
    for (const { place, ...hour } of volumes.list()) {
      const followed = this.places[place];
      if (!followed || !this.isFollowed(place)) continue;
      yield { ...hour, source: followed.source, name: followed.name };
    }
  }

  private take(
    source: string,
    known: ReadonlyMap<string, Followed> | undefined,
    observation: Observation,
    backfill: boolean,
    now: number,
  ): void {
    const name =
      observation.emitter.length > longestEmitterName
        ? fitted(observation.emitter, longestEmitterName)
        : observation.emitter;
    let followed = known?.get(name);
    const [first] = observation.arrivals.spans;
    if (!first) return;
    if (!followed) {
      const place = this.placeFor(source, name, now);
      if (place === undefined) {
        this.leftOut++;
        return;
      }
      this.follow((followed = newFollowed(source, name, first[0], place)));
    }
    learn(followed.rhythm, observation.arrivals);
    followed.parsed += observation.parsed;
    followed.dirty = true;
    this.volumes.add(followed.place, first[0], observation.arrivals.events, observation.bytes);
    takeTraits(followed, observation.traits);
    if (backfill) return;
    this.rates.add(followed.place, now, observation.arrivals.events, observation.bytes);
    const mean = observation.latenessSum / observation.arrivals.events;
    const share = Number.isFinite(followed.latenessLeast) ? freshShare : 1;
    followed.lateness += (mean - followed.lateness) * share;
    followed.latenessLeast = Math.min(followed.latenessLeast, observation.latenessLeast);
    followed.latenessMost = Math.max(followed.latenessMost, observation.latenessMost);
    takeSequence(followed, observation);
  }

  private follow(followed: Followed): void {
    let emitters = this.sources.get(followed.source);
    if (!emitters) this.sources.set(followed.source, (emitters = new Map()));
    emitters.set(followed.name, followed);
    this.places[followed.place] = followed;
  }

  /** A place for an emitter; undefined where its source has its share, or all are taken. What a source is as a whole gets one always. */
  private placeFor(source: string, emitter: string, now: number): number | undefined {
    const former = this.former.get(keyOf(source, emitter));
    if (former !== undefined) return former;
    const isFull = (): boolean => (this.sources.get(source)?.size ?? 0) > mostOfSource;
    if (emitter !== '' && isFull()) this.letGo(now);
    if (emitter !== '' && isFull()) return undefined;
    if (this.freePlaces.length === 0 && this.places.length >= mostEmitters) this.letGo(now);
    const free = this.freePlaces.pop();
    if (free !== undefined) return free;
    return this.places.length < mostEmitters || emitter === '' ? this.places.length : undefined;
  }

  /** Gives up the places of emitters that were silent for long; it is looked for them once a minute at most. */
  private letGo(now: number): void {
    if (now < this.nextLetGo) return;
    this.nextLetGo = now + minute;
    const oldest = now - staleAfter;
    for (const followed of this.followed()) {
      if (
        followed.name === '' ||
        followed.rhythm.last >= oldest ||
        followed.dirty ||
        followed.retired ||
        followed.expectedBack !== null
      )
        continue;
      this.sources.get(followed.source)?.delete(followed.name);
      this.freePlaces.push(followed.place);
    }
  }

  /** Whether the emitter at a place is followed still. */
  private isFollowed(place: number): boolean {
    const followed = this.places[place];
    return followed !== undefined && this.sources.get(followed.source)?.get(followed.name) === followed;
  }

  private *followed(source?: string): Iterable<Followed> {
    if (source !== undefined) yield* this.sources.get(source)?.values() ?? [];
    else for (const emitters of this.sources.values()) yield* emitters.values();
  }
}

function keyOf(source: string, name: string): string {
  return `${source} ${name}`;
}

/** Silent and other emitters as the search for common causes takes them; `labels` are those of their sources. */
export function causeMembers(
  views: readonly FollowedView[],
  labels: (source: string) => Readonly<Record<string, string>>,
): readonly CauseMember[] {
  return views.flatMap(({ source, emitter, health, lastSeen, traits }) => {
    if (emitter === '' || health.state === 'retired' || health.state === 'maintenance' || !health.expected) return [];
    const known = new Map([['source', source], ...Object.entries(labels(source)), ...Object.entries(traits)]);
    const silent = health.state === 'silent';
    return [{ source, emitter, traits: known, silent, lastHeard: lastSeen, due: lastSeen + health.expected.silent }];
  });
}

function newFollowed(source: string, name: string, first: number, place: number): Followed {
  return {
    source,
    name,
    place,
    rhythm: newRhythm(first),
    parsed: 0,
    lateness: 0,
    latenessLeast: Number.POSITIVE_INFINITY,
    latenessMost: Number.NEGATIVE_INFINITY,
    missing: 0,
    duplicates: 0,
    lastNumber: Number.NaN,
    traits: new Map(),
    changing: new Set(),
    retired: false,
    expectedBack: null,
    dirty: true,
  };
}

function takeTraits(followed: Followed, traits: Observation['traits']): void {
  for (const [name, value] of traits) {
    if (followed.changing.has(name)) continue;
    const before = followed.traits.get(name);
    if (before !== undefined && before !== value) {
      followed.traits.delete(name);
      if (followed.changing.size < 100) followed.changing.add(name);
    } else if (before === undefined && followed.traits.size < mostTraits) followed.traits.set(name, value);
  }
}

function takeSequence(followed: Followed, observation: Observation): void {
  followed.missing += observation.gaps;
  followed.duplicates += observation.duplicates;
  if (observation.firstNumber !== observation.firstNumber) return;
  if (observation.firstNumber > followed.lastNumber + 1)
    followed.missing += observation.firstNumber - followed.lastNumber - 1;
  // A sequence that starts again from a low number was restarted: nothing is missing or doubled.
  else if (observation.firstNumber <= followed.lastNumber && observation.firstNumber > 10) followed.duplicates++;
  followed.lastNumber = observation.lastNumber;
}

function viewOf(
  followed: Followed,
  now: number,
  rate: { readonly events: number; readonly bytes: number },
  plans: Partial<Plans>,
): FollowedView {
  const { rhythm } = followed;
  const health = healthOf(rhythm, now, {
    ...plans,
    retired: followed.retired || plans.retired === true,
    ...(followed.expectedBack !== null && { expectedBack: followed.expectedBack }),
  });
  return {
    source: followed.source,
    emitter: followed.name,
    health,
    firstSeen: rhythm.first,
    lastSeen: rhythm.last,
    events: rhythm.events,
    parsedShare: rhythm.events > 0 ? followed.parsed / rhythm.events : 0,
    eventsPerSecond: rate.events,
    bytesPerSecond: rate.bytes,
    lateness: followed.lateness,
    latenessLeast: Number.isFinite(followed.latenessLeast) ? followed.latenessLeast : 0,
    latenessMost: Number.isFinite(followed.latenessMost) ? followed.latenessMost : 0,
    missing: followed.missing,
    duplicates: followed.duplicates,
    traits: Object.fromEntries(followed.traits),
    retired: followed.retired,
    expectedBack: followed.expectedBack,
  };
}

function rowOf(followed: Followed): KnownEmitter {
  const { source, name, rhythm, parsed, lateness, latenessLeast, latenessMost, missing, duplicates, lastNumber } =
    followed;
  return {
    source,
    name,
    firstSeen: Math.floor(rhythm.first),
    lastSeen: Math.floor(rhythm.last),
    facts: {
      rhythm: packRhythm(rhythm),
      parsed,
      lateness,
      latenessLeast: Number.isFinite(latenessLeast) ? latenessLeast : null,
      latenessMost: Number.isFinite(latenessMost) ? latenessMost : null,
      missing,
      duplicates,
      lastNumber: Number.isNaN(lastNumber) ? null : lastNumber,
      traits: [...followed.traits],
      changing: [...followed.changing],
    },
  };
}
