import { hour, minute } from '#core/events/time-units.ts';
import { closeMinute, type Drift, type DriftState, newDriftState } from '#core/health/drift.ts';
import { Emitters, type SourceRate } from '#core/health/emitters.ts';
import { type HeardHour, heardByHour } from '#core/health/heard.ts';
import { unpackHeard } from '#core/health/pack-heard.ts';
import { mergeProfile, newProfile, type Profile } from '#core/health/profile.ts';
import type { Plans } from '#core/health/state.ts';
import type { FollowedView } from '#core/health/views.ts';
import type { Database, Queryable } from '#store/database.ts';
import { addDrifts } from '#store/sources/drifts.ts';
import { addEmitterVolume, heardEmitters, listEmitters, saveEmitters } from '#store/sources/emitters.ts';
import type { Learner } from '../learning/learner.ts';

/** The health of all sources and emitters: what is learnt of them, saved and read again, and what changes in what they send. */
export class HealthRegistry implements Learner {
  readonly kind = 'heard';
  private readonly emitters = new Emitters();
  private readonly drift = new Map<string, { state: DriftState; minute: number; profile: Profile }>();

  constructor(private readonly database: Database) {}

  /** Emitters that could not be followed. */
  get leftOut(): number {
    return this.emitters.leftOut;
  }

  learn(data: Uint8Array, at: number): void {
    for (const { source, backfill, list, profile } of unpackHeard(data)) {
      this.emitters.observe(source, list, backfill, at);
      if (profile) this.takeProfile(source, profile, at);
    }
  }

  async load(tx: Queryable): Promise<void> {
    const rows = await listEmitters(tx);
    this.emitters.forgetAll();
    for (const row of rows) this.emitters.know(row, Date.now());
  }

  loaded(): void {
    this.emitters.knownAnew();
  }

  async save(tx: Queryable): Promise<() => void> {
    const { emitters, volumes, undo } = this.emitters.takeLearnt();
    try {
      await saveEmitters(tx, emitters);
      await addEmitterVolume(tx, volumes);
    } catch (error) {
      undo();
      throw error;
    }
    return undo;
  }

  letOthersSave(): void {
    this.emitters.letOthersSave();
  }

  /** Reads again what people said of emitters. */
  async refreshPlans(): Promise<void> {
    for (const { source, name, retired, expectedBack } of await listEmitters(this.database.db))
      this.emitters.plan(source, name, { retired, expectedBack });
  }

  /** Follows a source and its emitters no longer, and loses what was learnt of them and not saved. */
  forget(source: string): void {
    this.emitters.forget(source);
    this.drift.delete(source);
  }

  /** Everything that is known, at `now` (milliseconds); of one source when given. */
  views(
    now: number,
    plansOf: (view: { source: string; emitter: string }) => Partial<Plans>,
    source?: string,
  ): readonly FollowedView[] {
    return this.emitters.views(now, plansOf, source);
  }

  /** What each source sends now. */
  rates(now: number): readonly SourceRate[] {
    return this.emitters.sourceRates(now);
  }

  /** Of the emitters of a source (where it has none, of the source itself) how many were heard, by the hour of a window. */
  async heard(source: string, from: number, to: number): Promise<readonly HeardHour[]> {
    const start = Math.floor(from / hour) * hour;
    const saved = await heardEmitters(this.database, source, { from: start, to });
    const heardIn = new Map([...saved].map(([at, names]) => [at, new Set(names)]));
    // What is not saved yet counts too.
    for (const { start: at, name } of this.emitters.heardLately(source)) {
      if (at < start) continue;
      const names = heardIn.get(at);
      if (names) names.add(name);
      else heardIn.set(at, new Set([name]));
    }
    const emitters = this.emitters.emittersOf(source);
    const named = emitters.filter(({ name }) => name !== '');
    return heardByHour(named.length > 0 ? named : emitters, heardIn, from, to);
  }

  /** Closes the minutes that are over; the changes that became visible are kept where this engine is to do that. */
  async closeMinutes(now: number, keeps: boolean): Promise<void> {
    const current = Math.floor(now / minute) * minute;
    const noticed: (Drift & { source: string })[] = [];
    for (const [source, open] of this.drift) {
      if (open.minute >= current) continue;
      for (const drift of closeMinute(open.state, open.minute, open.profile)) noticed.push({ ...drift, source });
      open.profile = newProfile();
      open.minute = current;
    }
    if (!keeps) return;
    await addDrifts(
      this.database,
      noticed.map((drift) => ({ ...drift, noticedAt: now })),
    );
  }

  private takeProfile(source: string, profile: Profile, now: number): void {
    let open = this.drift.get(source);
    if (!open) {
      open = { state: newDriftState(), minute: Math.floor(now / minute) * minute, profile: newProfile() };
      this.drift.set(source, open);
    }
    mergeProfile(open.profile, profile);
  }
}
