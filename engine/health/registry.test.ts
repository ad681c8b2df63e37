import { afterEach, beforeEach, describe, expect, inject, test } from 'vitest';
import { hour, minute } from '#core/events/time-units.ts';
import { causeMembers, mostOfSource } from '#core/health/emitters.ts';
import { observe } from '#core/health/observe.ts';
import { packHeard } from '#core/health/pack-heard.ts';
import { addToProfile, newProfile } from '#core/health/profile.ts';
import { batchOf } from '#core/testing/batch-of.ts';
import { type Database, openDatabase } from '#store/database.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { planEmitter, sumEmitterVolume } from '#store/sources/emitters.ts';
import { emptyDatabase } from '#store/testing/database.ts';
import { HealthRegistry } from './registry.ts';

// Who was not heard for long is forgotten when it is read.
const start = Math.floor(Date.now() / 86_400_000 - 1) * 86_400_000 + 9 * hour;

let database: Database;
let registry: HealthRegistry;

beforeEach(async () => {
  database = await emptyDatabase(inject('mariadb'));
  registry = new HealthRegistry(database);
});

afterEach(() => database.close());

async function save(of: HealthRegistry): Promise<void> {
  await of.save(database.db);
}

/** Has some hosts of a source report at a time. */
function report(hosts: readonly string[], at: number, more: object = {}, into = registry, source = 'gates'): void {
  const batch = batchOf(
    hosts.map((host) => ({ host, msg: 'scan', ...more })),
    source,
  );
  const arrived = {
    ...batch,
    received: new Float64Array(batch.rows).fill(at),
    time: new Float64Array(batch.rows).fill(at),
  };
  into.learn(packHeard([{ source, backfill: false, list: observe(arrived, true) }]), at);
}

/** Has them report every five minutes, so many times: 312 are a day and two hours. Returns the time of the last. */
function reportFor(hosts: readonly string[], times: number, from = start): number {
  for (let i = 0; i < times; i++) report(hosts, from + i * 5 * minute);
  return from + (times - 1) * 5 * minute;
}

const views = (now: number, of = registry) => of.views(now, () => ({}));
const view = (emitter: string, now: number, of = registry) => views(now, of).find((each) => each.emitter === emitter);

describe('what is known of emitters', () => {
  test('rates, rhythm and state, of the source as a whole too', () => {
    const last = reportFor(['gate-1', 'gate-2'], 312);
    expect(views(last).map(({ emitter }) => emitter)).toEqual(['', 'gate-1', 'gate-2']);
    expect(view('', last)).toMatchObject({ events: 624, health: { state: 'steady' } });
    expect(view('gate-1', last)).toMatchObject({ events: 312, parsedShare: 1, firstSeen: start, lastSeen: last });
    expect(view('gate-1', last)?.eventsPerSecond).toBeCloseTo(1 / 60, 2);
    report(['gate-2'], last + 20 * minute);
    expect(view('gate-1', last + 20 * minute)?.health).toMatchObject({ state: 'silent' });
    expect(view('gate-2', last + 20 * minute)?.health.state).toBe('steady');
  });

  test('what all its events say alike; what changes is no trait', () => {
    report(['gate-1'], start, { firmware: '5.1', lane: 'a' });
    report(['gate-1'], start + minute, { firmware: '5.1', lane: 'b' });
    report(['gate-1'], start + 2 * minute, { firmware: '5.1', lane: 'a' });
    expect(view('gate-1', start + 2 * minute)?.traits).toEqual({ firmware: '5.1' });
  });

  test('who is silent and due is reported for the search of a common cause, with the labels of its source', () => {
    const last = reportFor(['gate-1', 'gate-2'], 312);
    report(['gate-2'], last + 30 * minute);
    const members = causeMembers(views(last + 30 * minute), () => ({ site: 'piers' }));
    expect(members.map(({ emitter, silent }) => [emitter, silent])).toEqual([
      ['gate-1', true],
      ['gate-2', false],
    ]);
    expect(members[0]?.traits.get('site')).toBe('piers');
    expect(members[0]?.due).toBeGreaterThan(last);
  });
});

describe('what is saved', () => {
  test('is known again after a restart, and volumes are added once', async () => {
    const last = reportFor(['gate-1'], 20);
    await save(registry);
    await save(registry);
    const sums = await sumEmitterVolume(database, { from: start, to: start + 2 * hour });
    expect(sums.map(({ name, events }) => [name, events]).sort()).toEqual([
      ['', 20],
      ['gate-1', 20],
    ]);
    const restarted = new HealthRegistry(database);
    await restarted.load(database.db);
    const before = view('gate-1', last);
    expect(view('gate-1', last, restarted)).toEqual({ ...before, eventsPerSecond: 0, bytesPerSecond: 0 });
    report(['gate-1'], last + minute, {}, restarted);
    expect(view('gate-1', last + minute, restarted)).toMatchObject({ events: 21, firstSeen: start });
  });

  test('when the store is away, is saved the next time', async () => {
    reportFor(['gate-1'], 3);
    const gone = openDatabase('mysql://root@127.0.0.1:1/none', 1);
    const away = new HealthRegistry(database);
    for (let i = 0; i < 3; i++) report(['gate-1'], start + i * minute, {}, away);
    await expect(away.save(gone.db)).rejects.toThrow();
    await save(away);
    expect(await sumEmitterVolume(database, { from: start, to: start + hour })).toMatchObject([
      { events: 3 },
      { events: 3 },
    ]);
  });

  test('what people said of an emitter is taken up', async () => {
    const last = reportFor(['gate-1'], 5);
    await save(registry);
    await planEmitter(database.db, { source: 'gates', name: 'gate-1' }, { retired: true, expectedBack: null });
    await registry.refreshPlans();
    expect(view('gate-1', last + hour)?.health.state).toBe('retired');
  });

  test('who was heard is known by the hour', async () => {
    const last = reportFor(['gate-1', 'gate-2'], 312);
    await save(registry);
    // What came since the last save counts as well.
    reportFor(['gate-1'], 12, last + 5 * minute);
    const end = start + 26 * hour;
    expect(await registry.heard('gates', end - hour, end + hour)).toEqual([
      { start: end - hour, heard: 2, missing: 0 },
      { start: end, heard: 1, missing: 1 },
    ]);
    expect(await registry.heard('nobody', start, start + hour)).toEqual([{ start, heard: 0, missing: 0 }]);
  });
});

test('a change in what a source sends is noticed when its minutes close, and kept', async () => {
  const minutes = async (from: number, count: number, fields: object): Promise<void> => {
    for (let i = 0; i < count; i++) {
      const batch = batchOf(
        Array.from({ length: 60 }, (_, n) => ({ msg: 'scan', n, ...fields })),
        'gates',
      );
      const profile = newProfile();
      addToProfile(profile, batch);
      const at = start + (from + i) * minute;
      registry.learn(packHeard([{ source: 'gates', backfill: false, list: [], profile }]), at);
      await registry.closeMinutes(at + minute, true);
    }
  };
  await minutes(0, 12, { lane: 'a' });
  expect(await listDrifts(database, 0)).toEqual([]);
  await minutes(12, 4, { lane: 'a', retries: 1 });
  expect(await listDrifts(database, 0)).toMatchObject([
    { source: 'gates', kind: 'field-appeared', subject: 'retries' },
  ]);
});

describe('places', () => {
  test('a source with ever new emitters gets its share and no more, and one with a long name is one', async () => {
    const names = Array.from({ length: mostOfSource + 500 }, (_, i) => `host-${i}`);
    report(names, start);
    expect(views(start).filter(({ source, emitter }) => source === 'gates' && emitter !== '')).toHaveLength(
      mostOfSource,
    );
    expect(registry.leftOut).toBe(500);
    report([`${'h'.repeat(300)}a`], start, {}, registry, 'tides');
    expect(views(start).find(({ source, emitter }) => source === 'tides' && emitter !== '')?.emitter).toHaveLength(190);
    await save(registry);
    // A month later their places are others'.
    const later = start + 31 * 24 * hour;
    report(['host-new'], later);
    expect(view('host-new', later)).toBeDefined();
    expect(view('host-1', later)).toBeUndefined();
  });
});
