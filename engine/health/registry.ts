import { array, mixed, number, object, string, tuple } from 'yup';
import type { CauseMember } from '#core/health/common-cause.ts';
import { closeMinute, type Drift, type DriftState, newDriftState } from '#core/health/drift.ts';
import { type HeardHour, heardByHour } from '#core/health/heard.ts';
import { mostTraits, type Observation } from '#core/health/observe.ts';
import { type PackedRhythm, packRhythm, unpackRhythm } from '#core/health/pack-rhythm.ts';
import { mergeProfile, newProfile, type Profile } from '#core/health/profile.ts';
import { learn, newRhythm, type Rhythm } from '#core/health/rhythm.ts';
import { healthOf, type Plans } from '#core/health/state.ts';
import type { FollowedView } from '#core/health/views.ts';
import type { Database } from '#store/database.ts';
import { addDrifts } from '#store/drifts.ts';
import { addEmitterVolume, heardEmitters, listEmitters, longestName, saveEmitters } from '#store/emitters.ts';
import { fitted } from '#store/fitted.ts';
import type { SourceObservation } from '../workers/process.ts';
import { HourVolumes } from './hour-volumes.ts';
import { RecentRates } from './recent-rates.ts';

/** Most emitters that are followed, and most of one source; further ones are counted, their events kept as all others. */
export const mostEmitters = 20_000;
export const mostOfSource = 5_000;
/** Emitters that were silent for so long give up their place (milliseconds). */
const staleAfter = 30 * 86_400_000;

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

const minute = 60_000;
/** How much of a mean each new observation is. */
const freshShare = 0.05;

/** Follows all sources and emitters: their rhythm, rates and traits, and what changes in what they send. */
export class HealthRegistry {
  /** Emitters that could not be followed. */
  leftOut = 0;
  /** By source and name. */
  private readonly sources = new Map<string, Map<string, Followed>>();
  /** All of them, each at its place. */
  private readonly places: Followed[] = [];
  /** Places that were given up. */
  private readonly freePlaces: number[] = [];
  private nextLetGo = 0;
  private readonly rates = new RecentRates();
  /** What came since the last save. */
  private volumes = new HourVolumes();
  private readonly drift = new Map<string, { state: DriftState; minute: number; profile: Profile }>();

  constructor(private readonly database: Database) {}

  /** Reads what was learnt before. */
  async load(): Promise<void> {
    const oldest = Date.now() - staleAfter;
    for (const row of await listEmitters(this.database)) {
      // One that no place is kept for is met as a new one, and found to be known when it is saved.
      if (row.lastSeen < oldest && row.name !== '' && !row.retired && row.expectedBack === null) continue;
      const held = facts.cast(row.facts);
      const rhythm = unpackRhythm(held.rhythm);
      rhythm.first = Math.min(rhythm.first, row.firstSeen);
      this.follow({
        ...newFollowed(row.source, row.name, rhythm.first, this.places.length),
        rhythm,
        parsed: held.parsed,
        lateness: held.lateness,
        latenessLeast: held.latenessLeast ?? Number.POSITIVE_INFINITY,
        latenessMost: held.latenessMost ?? Number.NEGATIVE_INFINITY,
        missing: held.missing,
        duplicates: held.duplicates,
        lastNumber: held.lastNumber ?? Number.NaN,
        traits: new Map(held.traits as [string, string][]),
        changing: new Set(held.changing),
        retired: row.retired,
        expectedBack: row.expectedBack,
        dirty: false,
      });
    }
  }

  /** Reads again what people said of emitters. */
  async refreshPlans(): Promise<void> {
    for (const { source, name, retired, expectedBack } of await listEmitters(this.database)) {
      const held = this.sources.get(source)?.get(name);
      if (held) Object.assign(held, { retired, expectedBack });
    }
  }

  /** Follows a source and its emitters no longer, and loses what was learnt of them and not saved. Their places stay taken. */
  forget(source: string): void {
    this.sources.delete(source);
    this.drift.delete(source);
  }

  /** Takes in what committed deliveries told. */
  observe(observations: readonly SourceObservation[], now: number): void {
    for (const { source, backfill, list, profile } of observations) {
      for (const each of list) this.take(source, each, backfill, now);
      if (profile) this.takeProfile(source, profile, now);
    }
  }

  /** Everything that is known, at `now` (milliseconds); of one source when given. */
  views(
    now: number,
    plansOf: (view: { source: string; emitter: string }) => Partial<Plans>,
    source?: string,
  ): readonly FollowedView[] {
    const views: FollowedView[] = [];
    for (const held of this.followed(source)) {
      const plans = plansOf({ source: held.source, emitter: held.name });
      views.push(viewOf(held, now, this.rates.rate(held.place, now), plans));
    }
    return views;
  }

  /** Of the emitters of a source (where it has none, of the source itself) how many were heard, by the hour of a window. */
  async heard(source: string, from: number, to: number): Promise<readonly HeardHour[]> {
    const all = [...this.followed(source)];
    const emitters = all.filter(({ name }) => name !== '');
    const start = Math.floor(from / 3_600_000) * 3_600_000;
    const heardIn = new Map(
      [...(await heardEmitters(this.database, source, { from: start, to }))].map(([at, names]) => [at, new Set(names)]),
    );
    // What is not saved yet counts too.
    for (const { start: at, place } of this.volumes.list()) {
      const held = this.places[place];
      if (held?.source !== source || at < start || !this.isFollowed(place)) continue;
      const names = heardIn.get(at);
      if (names) names.add(held.name);
      else heardIn.set(at, new Set([held.name]));
    }
    return heardByHour(emitters.length > 0 ? emitters : all, heardIn, from, to);
  }

  /** Saves what was learnt since the last time, and the volumes. */
  async save(): Promise<void> {
    const dirty = [...this.followed()].filter((held) => held.dirty);
    const volumes = [...this.volumes.list()].filter(({ place }) => this.isFollowed(place));
    this.volumes = new HourVolumes();
    for (const held of dirty) held.dirty = false;
    try {
      await saveEmitters(this.database, dirty.map(rowOf));
      await addEmitterVolume(
        this.database,
        volumes.map(({ start, place, events, bytes }) => {
          const { source, name } = this.places[place] as Followed;
          return { start, source, name, events, bytes };
        }),
      );
    } catch (error) {
      for (const held of dirty) held.dirty = true;
      for (const { place, start, events, bytes } of volumes) this.volumes.add(place, start, events, bytes);
      throw error;
    }
  }

  /** Closes the minutes that are over and keeps the changes that became visible. */
  async closeMinutes(now: number): Promise<void> {
    const current = Math.floor(now / minute) * minute;
    const noticed: (Drift & { source: string })[] = [];
    for (const [source, held] of this.drift) {
      if (held.minute >= current) continue;
      for (const drift of closeMinute(held.state, held.minute, held.profile)) noticed.push({ ...drift, source });
      held.profile = newProfile();
      held.minute = current;
    }
    await addDrifts(
      this.database,
      noticed.map((drift) => ({ ...drift, noticedAt: now })),
    );
  }

  private take(source: string, each: Observation, backfill: boolean, now: number): void {
    const name = each.emitter.length > longestName ? fitted(each.emitter, longestName) : each.emitter;
    let held = this.sources.get(source)?.get(name);
    const [first] = each.arrivals.spans;
    if (!first) return;
    if (!held) {
      const place = this.placeFor(source, name, now);
      if (place === undefined) {
        this.leftOut++;
        return;
      }
      this.follow((held = newFollowed(source, name, first[0], place)));
    }
    learn(held.rhythm, each.arrivals);
    held.parsed += each.parsed;
    held.dirty = true;
    this.volumes.add(held.place, first[0], each.arrivals.events, each.bytes);
    takeTraits(held, each.traits);
    if (backfill) return;
    this.rates.add(held.place, now, each.arrivals.events, each.bytes);
    const mean = each.latenessSum / each.arrivals.events;
    const share = Number.isFinite(held.latenessLeast) ? freshShare : 1;
    held.lateness += (mean - held.lateness) * share;
    held.latenessLeast = Math.min(held.latenessLeast, each.latenessLeast);
    held.latenessMost = Math.max(held.latenessMost, each.latenessMost);
    takeSequence(held, each);
  }

  private takeProfile(source: string, profile: Profile, now: number): void {
    let held = this.drift.get(source);
    if (!held) {
      held = { state: newDriftState(), minute: Math.floor(now / minute) * minute, profile: newProfile() };
      this.drift.set(source, held);
    }
    mergeProfile(held.profile, profile);
  }

  private follow(held: Followed): void {
    let own = this.sources.get(held.source);
    if (!own) this.sources.set(held.source, (own = new Map()));
    own.set(held.name, held);
    this.places[held.place] = held;
  }

  /** A place for an emitter; undefined where its source has its share, or all are taken. What a source is as a whole gets one always. */
  private placeFor(source: string, emitter: string, now: number): number | undefined {
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
    for (const held of this.followed()) {
      if (held.name === '' || held.rhythm.last >= oldest || held.dirty || held.retired || held.expectedBack !== null)
        continue;
      this.sources.get(held.source)?.delete(held.name);
      this.freePlaces.push(held.place);
    }
  }

  /** Whether the emitter at a place is followed still. */
  private isFollowed(place: number): boolean {
    const held = this.places[place];
    return held !== undefined && this.sources.get(held.source)?.get(held.name) === held;
  }

  private *followed(source?: string): Iterable<Followed> {
    if (source !== undefined) yield* this.sources.get(source)?.values() ?? [];
    else for (const own of this.sources.values()) yield* own.values();
  }
}

/** Silent and other emitters as the search for common causes takes them; `labels` are those of their sources. */
export function causeMembers(
  views: readonly FollowedView[],
  labels: (source: string) => Readonly<Record<string, string>>,
): readonly CauseMember[] {
  return views.flatMap(({ source, emitter, health, lastSeen, traits }) => {
    if (emitter === '' || health.state === 'retired' || health.state === 'maintenance' || !health.expected) return [];
    const own = new Map([['source', source], ...Object.entries(labels(source)), ...Object.entries(traits)]);
    const silent = health.state === 'silent';
    return [{ source, emitter, traits: own, silent, lastHeard: lastSeen, due: lastSeen + health.expected.silent }];
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

function takeTraits(held: Followed, traits: Observation['traits']): void {
  for (const [name, value] of traits) {
    if (held.changing.has(name)) continue;
    const before = held.traits.get(name);
    if (before !== undefined && before !== value) {
      held.traits.delete(name);
      if (held.changing.size < 100) held.changing.add(name);
    } else if (before === undefined && held.traits.size < mostTraits) held.traits.set(name, value);
  }
}

function takeSequence(held: Followed, each: Observation): void {
  held.missing += each.gaps;
  held.duplicates += each.duplicates;
  if (each.firstNumber !== each.firstNumber) return;
  if (each.firstNumber > held.lastNumber + 1) held.missing += each.firstNumber - held.lastNumber - 1;
  // A sequence that starts again from a low number was restarted: nothing is missing or doubled.
  else if (each.firstNumber <= held.lastNumber && each.firstNumber > 10) held.duplicates++;
  held.lastNumber = each.lastNumber;
}

function viewOf(
  held: Followed,
  now: number,
  rate: { readonly events: number; readonly bytes: number },
  plans: Partial<Plans>,
): FollowedView {
  const { rhythm } = held;
  const health = healthOf(rhythm, now, {
    ...plans,
    retired: held.retired || plans.retired === true,
    ...(held.expectedBack !== null && { expectedBack: held.expectedBack }),
  });
  return {
    source: held.source,
    emitter: held.name,
    health,
    firstSeen: rhythm.first,
    lastSeen: rhythm.last,
    events: rhythm.events,
    parsedShare: rhythm.events > 0 ? held.parsed / rhythm.events : 0,
    eventsPerSecond: rate.events,
    bytesPerSecond: rate.bytes,
    lateness: held.lateness,
    latenessLeast: Number.isFinite(held.latenessLeast) ? held.latenessLeast : 0,
    latenessMost: Number.isFinite(held.latenessMost) ? held.latenessMost : 0,
    missing: held.missing,
    duplicates: held.duplicates,
    traits: Object.fromEntries(held.traits),
    retired: held.retired,
    expectedBack: held.expectedBack,
  };
}

function rowOf(held: Followed) {
  const { source, name, rhythm, parsed, lateness, latenessLeast, latenessMost, missing, duplicates, lastNumber } = held;
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
      traits: [...held.traits],
      changing: [...held.changing],
    },
  };
}
