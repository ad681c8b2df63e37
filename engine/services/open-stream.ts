import { ArrivalsHub } from '../arrivals/arrivals-hub.ts';
import { startCommitting } from '../commit/groups.ts';
import { effectWriters } from '../commit/writers/index.ts';
import type { Hindrance } from '../deliveries/hindrance.ts';
import { intakeServer } from '../intake/http.ts';
import { LostMessages } from '../intake/lost-messages.ts';
import { IntakeQueue } from '../intake/queue.ts';
import { TapeRate } from '../intake/tape-rate.ts';
import { Learning } from '../learning/learning.ts';
import { Measures } from '../measures/measures.ts';
import { derivedMetrics } from '../metrics/derived-metrics.ts';
import { followers } from '../outgoing/index.ts';
import { PlanStatistics } from '../plan/plan-statistics.ts';
import { ClockGuard } from '../watches/clock-guard.ts';
import { DiskWatch, reserveOf } from '../watches/disk-watch.ts';
import type { OpenChangeable } from './open-changeable.ts';
import type { OpenStore } from './open-store.ts';

/** What events go through from a sender to the store. Nothing is listened to yet, so nothing comes. */
export async function openStream(services: OpenStore & OpenChangeable) {
  const { config, log, database, engine, watch, pools, plan, health, directory, switches } = services;
  const queue = new IntakeQueue();
  const tapeRate = new TapeRate();
  const measures = new Measures();
  const lost = new LostMessages(database, measures);
  const statistics = new PlanStatistics();
  const learning = new Learning(database, engine, [health, statistics]);
  const arrivals = new ArrivalsHub(engine);
  const disk = new DiskWatch(database, { folder: config.storeFolder, reserve: await reserveOf(config) }, log);
  await disk.look();
  const clock = new ClockGuard(database, config.clockLeap, log);
  const hindrance = (): Hindrance | undefined => {
    if (disk.isFull) return 'full';
    return watch.isThere ? undefined : 'away';
  };
  const intake = intakeServer({
    ...{ queue, directory, tapeRate, measures, database, hindrance, disk },
    metricsDoor: { token: config.metricsToken, hosts: config.metricsHosts },
    derivedMetrics: derivedMetrics(database, pools, () => plan.current().plan),
  });
  const write = effectWriters({ engine, learning, followers, arrivals });
  const commits = startCommitting({
    ...{ queue, pools, database, plan, directory, switches, write, followers, arrivals, measures, log, hindrance },
  });
  return { queue, tapeRate, measures, lost, statistics, learning, arrivals, disk, clock, intake, commits };
}

/** What events go through, open. */
export type OpenStream = Awaited<ReturnType<typeof openStream>>;
