import { setTimeout as pause } from 'node:timers/promises';
import type { FollowerChoice } from '#core/consumers/consumer.ts';
import { LeaseLost } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { deliveriesTable, findDeliveries } from '#store/events/deliveries.ts';
import { SpoolFull } from '#store/events/spools.ts';
import { isAway, isRepeated, StoreFault } from '#store/fault.ts';
import { CapSpent } from '#store/volume/cap-days.ts';
import type { ArrivalsHub } from '../arrivals/arrivals-hub.ts';
import type { Log } from '../base/log.ts';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import { maxUnpackedBytes } from '../deliveries/gzip.ts';
import type { Hindrance } from '../deliveries/hindrance.ts';
import type { IntakeQueue, Linger, Waiting } from '../intake/queue.ts';
import type { Measures } from '../measures/measures.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { PlanSwitches } from '../plan/plan-switches.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import type { ProcessTask } from '../workers/process.ts';
import { setAside } from './quarantine.ts';
import { UsedDays } from './used-days.ts';
import type { WriteEffects } from './writers/index.ts';

/** Most bytes that are processed and committed together. */
const groupBytes = 12_000_000;
/** How long the first delivery of a group waits for others. */
const linger: Linger = { least: 60, most: 500 };
/** Between attempts while the store is away, in milliseconds. */
const awayPause = 500;
/** Longest pause before a group that met another transaction is tried again (milliseconds), and how often it is. */
const busyPause = 40;
const mostCollisions = 20;

/**
 * How long a commit may take until the store counts as away, in milliseconds: who can send again is answered within five seconds,
 * the others wait for longer, so that a slow store makes headway.
 */
const commitPatience = 4_000;
const longCommitPatience = 60_000;

/** One in so many groups is looked at closely: steps are weighed, traits gathered, profiles taken. */
const profiledEvery = 8;
let groups = 0;

export interface CommitLoop {
  /**
   * Commits everything that waits, as far as that is done within `patience` milliseconds, and stops. Returns what could
   * not be committed.
   */
  readonly stop: (patience: number) => Promise<readonly Waiting[]>;
}

interface Setting extends CommitSetting {
  readonly usedDays: UsedDays;
}

/** The services that processing and committing use. */
interface CommitSetting {
  readonly queue: IntakeQueue;
  readonly pools: Pools;
  readonly database: Database;
  readonly plan: PlanHolder;
  readonly directory: SourceDirectory;
  readonly switches: PlanSwitches;
  readonly write: WriteEffects;
  readonly followers: readonly FollowerChoice[];
  readonly arrivals: ArrivalsHub;
  readonly measures: Measures;
  readonly log: Log;
  /** Why nothing can be stored now; undefined where it can. */
  readonly hindrance: () => Hindrance | undefined;
}

/**
 * Takes deliveries from the queue in groups, has them processed, and commits each group in one transaction: all that the
 * consumers of the stream made of it. Only then are the deliveries answered.
 */
export function startCommitting(given: CommitSetting): CommitLoop {
  const setting: Setting = { ...given, usedDays: new UsedDays(given.database) };
  const { queue } = setting;
  prepareThread(setting);
  const inFlight = new Map<string, Promise<void>>();
  const lane = async (take: () => Promise<readonly Waiting[] | undefined>): Promise<void> => {
    for (let group = await take(); group; group = await take()) await handleGroup(setting, group, inFlight);
  };
  const lanes = Array.from({ length: setting.pools.processLanes }, () => lane(() => queue.take(groupBytes, linger)));
  lanes.push(lane(() => queue.takeHeavy()));
  return {
    stop: async (patience) => {
      queue.close();
      const timer = setTimeout(() => queue.abandon(), patience);
      await Promise.all(lanes);
      clearTimeout(timer);
      return queue.abandoned;
    },
  };
}

/** Has a thread read the plan and the shapes while the engine starts, so that the first group need not wait for that. */
function prepareThread(setting: Setting): void {
  setting.pools.process(false, { ...taskOf(setting, []), profiled: false }).catch((error: unknown) => {
    setting.log.warn({ err: error }, 'A thread could not be prepared; the first group prepares it.');
  });
}

/** Deliveries to be processed by the live plan as it is switched now. */
function taskOf(
  { plan, switches, directory, arrivals, followers }: Setting,
  deliveries: readonly Delivery[],
): Omit<ProcessTask, 'shapes' | 'profiled' | 'used'> {
  const now = Date.now();
  return {
    ...{ deliveries, now, revision: plan.current().revision, switched: switches.at(now) },
    tables: directory.tables,
    views: arrivals.views(),
    followers: followers.map(({ name, when }) => ({ name, when })),
  };
}

function patienceWith(group: readonly Waiting[]): number {
  return group.some(({ storeAway }) => storeAway !== undefined) ? commitPatience : longCommitPatience;
}

function keyOf({ delivery }: Waiting): string | undefined {
  return delivery.key === undefined ? undefined : `${delivery.source} ${delivery.key}`;
}

/** Deliveries under a key that is being committed by another lane wait for that lane. */
async function handleGroup(
  setting: Setting,
  group: readonly Waiting[],
  inFlight: Map<string, Promise<void>>,
): Promise<void> {
  const now: Waiting[] = [];
  const later: Waiting[] = [];
  const keys = new Set<string>();
  for (const waiting of group) {
    const key = keyOf(waiting);
    if (key !== undefined && (keys.has(key) || inFlight.has(key))) later.push(waiting);
    else {
      if (key !== undefined) keys.add(key);
      now.push(waiting);
    }
  }
  let done = (): void => {};
  const finished = new Promise<void>((resolve) => (done = resolve));
  for (const key of keys) inFlight.set(key, finished);
  try {
    await commitGroup(setting, now);
  } finally {
    for (const key of keys) inFlight.delete(key);
    done();
  }
  if (later.length === 0) return;
  await Promise.all(later.map((waiting) => inFlight.get(keyOf(waiting) ?? '')));
  await handleGroup(setting, later, inFlight);
}

async function commitGroup(setting: Setting, group: readonly Waiting[]): Promise<void> {
  if (setting.hindrance()) {
    await putOff(setting, group);
    return;
  }
  /** Those that nobody has answered yet. */
  let open = group;
  try {
    const fresh = await withoutRepeated(setting, group);
    open = fresh;
    if (fresh.length === 0) return;
    const started = performance.now();
    const deliveries = fresh.map(({ delivery }) => delivery);
    // Both are of the same plan, though another one may be published meanwhile.
    const task = taskOf(setting, deliveries);
    const used = await setting.usedDays.of(setting.plan.current(), deliveries);
    const isHeavy = fresh.some((waiting) => setting.queue.isHeavy(waiting));
    const result = await setting.pools.process(isHeavy, {
      ...task,
      ...(used && { used }),
      profiled: groups++ % profiledEvery === 0,
    });
    if ('unready' in result) {
      setting.log.error(`Nothing can be processed: ${result.unready}`);
      await putOff(setting, fresh);
      return;
    }
    const processed = performance.now();
    for (const [i, waiting] of fresh.entries()) setting.queue.took(waiting, result.times[i] as number);
    const at = Date.now();
    const committed = await setting.database.within(patienceWith(fresh), (tx) => setting.write(tx, result.effects, at));
    setting.measures.committed(result, processed - started, performance.now() - processed);
    for (const [i, waiting] of fresh.entries()) answer(setting, waiting, result.answers[i] as DeliveryAnswer);
    open = [];
    committed();
  } catch (error) {
    await handleFailure(setting, open, error);
  }
}

/** A packed delivery that holds more than it said waits until there is room for the most that one may hold. */
function answer({ queue }: Setting, waiting: Waiting, given: DeliveryAnswer): void {
  if (given.kind !== 'larger') waiting.answer(given);
  else {
    const delivery = { ...waiting.delivery, mostUnpacked: maxUnpackedBytes };
    queue.putBack([{ ...waiting, delivery, unpacked: maxUnpackedBytes }]);
  }
}

/** Answers deliveries that were committed before, and returns the others. */
async function withoutRepeated({ database }: Setting, group: readonly Waiting[]): Promise<readonly Waiting[]> {
  const keyed = group.flatMap(({ delivery }) =>
    delivery.key === undefined ? [] : [{ source: delivery.source, key: delivery.key }],
  );
  const known = new Map((await findDeliveries(database, keyed)).map((row) => [`${row.source} ${row.key}`, row]));
  return group.filter((waiting) => {
    const before = known.get(keyOf(waiting) ?? '');
    if (!before) return true;
    const notes = ['This delivery was stored before; it was not stored again.'];
    const { accepted, rejected } = before;
    waiting.answer({ kind: 'stored', accepted, rejected, problems: [], notes, isKnown: true });
    return false;
  });
}

async function handleFailure(setting: Setting, group: readonly Waiting[], error: unknown): Promise<void> {
  const { queue, measures, log } = setting;
  if (group.length === 0) {
    // What is stored is stored, whatever becomes of what is learnt from it.
    log.error({ err: error }, 'A group is stored, but not everything was learnt from it.');
    return;
  }
  if (error instanceof LeaseLost) {
    const isSuperseded = ({ delivery }: Waiting): boolean => delivery.progress?.lease?.name === error.lease;
    for (const waiting of group) if (isSuperseded(waiting)) waiting.answer({ kind: 'superseded' });
    queue.putBack(group.filter((waiting) => !isSuperseded(waiting)));
    return;
  }
  if (error instanceof SpoolFull) {
    log.warn(error.message);
    await putOff(setting, group);
    return;
  }
  if (error instanceof CapSpent) {
    // What others took is known the next time, and somebody took something each time.
    setting.usedDays.forget();
    queue.putBack(group);
    return;
  }
  if (isRepeated(error, deliveriesTable) || (error instanceof StoreFault && error.kind === 'busy')) {
    // Another engine committed one of the keys, or two lanes met in the ledger: look again.
    for (const waiting of group) waiting.collisions = (waiting.collisions ?? 0) + 1;
    await pause(Math.random() * busyPause);
    if (group.every(({ collisions = 0 }) => collisions < mostCollisions)) {
      queue.putBack(group);
      return;
    }
  }
  measures.failedCommits++;
  const isBusy = error instanceof StoreFault && error.kind === 'busy';
  if (isAway(error) || isBusy) {
    log.warn('The store cannot be reached or takes nothing now; nothing is acknowledged until it is back.');
    await putOff(setting, group);
  } else await separate(setting, group, error);
}

/** Tells those who can send again to do so, and has the others wait. */
async function putOff({ queue }: Setting, group: readonly Waiting[]): Promise<void> {
  for (const { storeAway } of group) storeAway?.();
  const staying = group.filter(({ storeAway }) => storeAway === undefined);
  await pause(awayPause);
  queue.putBack(staying);
}

/**
 * A group that will never be committed is parted, by source and then in halves, until the delivery that is to blame stands
 * alone, and that one is set aside.
 */
async function separate(setting: Setting, group: readonly Waiting[], error: unknown): Promise<void> {
  const [first] = group;
  if (!first) return;
  if (group.length > 1) {
    for (const part of parted(group)) await commitGroup(setting, part);
    return;
  }
  const reason = error instanceof Error ? error.message : String(error);
  try {
    first.answer(await setAside(setting.database, first.delivery, reason));
    setting.measures.quarantined++;
    // Messages of other faults may hold what was sent.
    const logged = error instanceof StoreFault ? reason : 'it could not be processed.';
    setting.log.error(`A delivery of ${first.delivery.source} was set aside: ${logged}`);
  } catch (fault) {
    if (isRepeated(fault, deliveriesTable)) setting.queue.putBack(group);
    else await putOff(setting, group);
  }
}

function parted(group: readonly Waiting[]): readonly (readonly Waiting[])[] {
  const bySource = new Map<string, Waiting[]>();
  for (const waiting of group) {
    const part = bySource.get(waiting.delivery.source);
    if (part) part.push(waiting);
    else bySource.set(waiting.delivery.source, [waiting]);
  }
  if (bySource.size > 1) return [...bySource.values()];
  const half = Math.ceil(group.length / 2);
  return [group.slice(0, half), group.slice(half)];
}
