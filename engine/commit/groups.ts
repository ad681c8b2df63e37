import type { Logger } from 'pino';
import { type Database, isAway, isDuplicate } from '#store/database.ts';
import { addDeliveries, findDeliveries } from '#store/deliveries.ts';
import { addToLedger } from '#store/ledger.ts';
import { saveProgress } from '#store/positions.ts';
import { insertSegments } from '#store/segments.ts';
import { addToTape } from '#store/tape.ts';
import type { HealthRegistry } from '../health/registry.ts';
import type { DeliveryAnswer } from '../intake/delivery.ts';
import type { IntakeQueue, Waiting } from '../intake/queue.ts';
import type { Senders } from '../intake/senders.ts';
import type { Measures } from '../measures.ts';
import type { PlanHolder } from '../plan.ts';
import type { Pools } from '../workers/pools.ts';
import type { ProcessResult } from '../workers/process.ts';

/** Most bytes that are processed and committed together. */
const groupBytes = 12_000_000;
/** How long the first delivery of a group waits for others, in milliseconds. */
const lingerTime = 60;
/** Between attempts while the store is away, in milliseconds. */
const awayPause = 500;

/** One in so many groups is looked at closely: steps are weighed, traits gathered, profiles taken. */
const closelyEvery = 8;
let groups = 0;

export interface CommitLoop {
  /** Finishes the groups at hand and stops. */
  readonly stop: () => Promise<void>;
}

interface Setting {
  readonly queue: IntakeQueue;
  readonly pools: Pools;
  readonly database: Database;
  readonly plan: PlanHolder;
  readonly senders: Senders;
  readonly health: HealthRegistry;
  readonly measures: Measures;
  readonly log: Logger;
}

/**
 * Takes deliveries from the queue in groups, has them processed, and commits each group in one transaction: segments,
 * ledger, tape, and the keys of the deliveries. Only then are the deliveries answered.
 */
export function startCommitting(setting: Setting): CommitLoop {
  let close = (): void => {};
  let open = true;
  const closed = new Promise<void>((resolve) => {
    close = () => {
      open = false;
      resolve();
    };
  });
  const inFlight = new Map<string, Promise<void>>();
  const lane = async (): Promise<void> => {
    while (open) {
      const group = await setting.queue.take(groupBytes, lingerTime, closed);
      if (group.length > 0) await handleGroup(setting, group, inFlight);
    }
  };
  const lanes = Array.from({ length: setting.pools.processLanes }, lane);
  return {
    stop: async () => {
      close();
      await Promise.all(lanes);
    },
  };
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
  const own = new Set<string>();
  for (const waiting of group) {
    const key = keyOf(waiting);
    if (key !== undefined && (own.has(key) || inFlight.has(key))) later.push(waiting);
    else {
      if (key !== undefined) own.add(key);
      now.push(waiting);
    }
  }
  let done = (): void => {};
  const finished = new Promise<void>((resolve) => (done = resolve));
  for (const key of own) inFlight.set(key, finished);
  try {
    await commitGroup(setting, now);
  } finally {
    for (const key of own) inFlight.delete(key);
    done();
  }
  if (later.length === 0) return;
  await Promise.all(later.map((waiting) => inFlight.get(keyOf(waiting) ?? '')));
  await handleGroup(setting, later, inFlight);
}

async function commitGroup(setting: Setting, group: readonly Waiting[]): Promise<void> {
  try {
    const fresh = await withoutRepeated(setting, group);
    if (fresh.length === 0) return;
    const { revision, plan } = setting.plan.current();
    const started = performance.now();
    const result = await setting.pools.process({
      deliveries: fresh.map(({ delivery }) => delivery),
      plan,
      revision,
      now: Date.now(),
      tables: setting.senders.tables,
      closely: groups++ % closelyEvery === 0,
    });
    const processed = performance.now();
    await commit(setting.database, fresh, result);
    setting.health.observe(result.observed, Date.now());
    setting.measures.committed(revision, result, processed - started, performance.now() - processed);
    for (const [i, waiting] of fresh.entries()) waiting.answer(result.answers[i] as DeliveryAnswer);
  } catch (error) {
    await handleFailure(setting, group, error);
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
    waiting.answer({ kind: 'stored', accepted: before.accepted, rejected: before.rejected, problems: [], notes });
    return false;
  });
}

async function commit(database: Database, group: readonly Waiting[], result: ProcessResult): Promise<void> {
  const at = Date.now();
  const keys = group.flatMap(({ delivery: { source, key } }, i) => {
    const answer = result.answers[i];
    if (key === undefined || answer?.kind !== 'stored') return [];
    return [{ source, key, accepted: answer.accepted, rejected: answer.rejected, at }];
  });
  const progress = group.flatMap(({ delivery }) => (delivery.progress ? [delivery.progress] : []));
  await database.db.transaction(async (tx) => {
    await addDeliveries(tx, keys);
    await saveProgress(tx, progress);
    await insertSegments(tx, result.segments);
    await addToLedger(tx, result.ledger);
    await addToTape(tx, result.tape);
  });
}

async function handleFailure(setting: Setting, group: readonly Waiting[], error: unknown): Promise<void> {
  if (isDuplicate(error) || isDeadlock(error)) {
    // Another engine committed one of the keys, or two lanes met in the ledger: look again.
    setting.queue.putBack(group);
    return;
  }
  setting.measures.failedCommits++;
  if (isAway(error)) setting.log.warn('The store cannot be reached; nothing is acknowledged until it is back.');
  else setting.log.error({ err: error }, 'A group could not be committed.');
  const staying = group.filter((waiting) => waiting.storeAway());
  await new Promise((resolve) => setTimeout(resolve, awayPause));
  setting.queue.putBack(staying);
}

function isDeadlock(error: unknown): boolean {
  for (let fault: unknown = error, depth = 0; fault instanceof Error && depth < 5; fault = fault.cause, depth++) {
    if ('code' in fault && (fault.code === 'ER_LOCK_DEADLOCK' || fault.code === 'ER_LOCK_WAIT_TIMEOUT')) return true;
  }
  return false;
}
