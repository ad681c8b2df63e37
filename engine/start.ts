import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { installationValue } from '#store/cluster/installation.ts';
import { openDatabase, storeAnswers } from '#store/database.ts';
import { migrateDatabase } from '#store/migrate.ts';
import { apiServer } from './api/server.ts';
import { ArrivalsHub } from './arrivals/arrivals-hub.ts';
import { readConfig } from './base/config.ts';
import type { Log } from './base/log.ts';
import type { Service } from './base/service.ts';
import { Changes } from './cluster/changes.ts';
import { engineId } from './cluster/engine-id.ts';
import { Leases, leaseNames } from './cluster/leases.ts';
import { commitService } from './commit/commit-service.ts';
import { startCommitting } from './commit/groups.ts';
import { effectWriters } from './commit/writers/index.ts';
import type { Hindrance } from './deliveries/hindrance.ts';
import { DemoTraffic } from './demo/demo-traffic.ts';
import { removeDemo } from './demo/remove-demo.ts';
import { HealthRegistry } from './health/registry.ts';
import { followFiles } from './intake/files/follow.ts';
import { intakeServer } from './intake/http.ts';
import { LostMessages } from './intake/lost-messages.ts';
import { pickUpObjects } from './intake/objects/pick-up.ts';
import { IntakeQueue } from './intake/queue.ts';
import { SyslogGatherer } from './intake/syslog.ts';
import { startSyslog } from './intake/syslog-service.ts';
import { TapeRate } from './intake/tape-rate.ts';
import { Learning } from './learning/learning.ts';
import { Measures } from './measures/measures.ts';
import { derivedMetrics } from './metrics/derived-metrics.ts';
import { followers } from './outgoing/index.ts';
import { openPlan } from './plan/live-plan.ts';
import { PlanStatistics } from './plan/plan-statistics.ts';
import { PlanSwitches } from './plan/plan-switches.ts';
import { Rewinds } from './reprocessing/rewind.ts';
import { roundLeases } from './rounds/index.ts';
import type { RoundServices } from './rounds/round-services.ts';
import { startRounds } from './rounds/start-rounds.ts';
import { HeaderCache } from './search/header-cache.ts';
import { KnownFields } from './search/known-fields.ts';
import { ShapeCatalogue } from './shapes/shape-catalogue.ts';
import { sourceBounds } from './sources/source-bounds.ts';
import { SourceDirectory } from './sources/source-directory.ts';
import { ClockGuard } from './watches/clock-guard.ts';
import { DiskWatch, reserveOf } from './watches/disk-watch.ts';
import { StoreWatch } from './watches/store-watch.ts';
import { LookupTables } from './workers/lookup-tables.ts';
import { placeOf } from './workers/places.ts';
import { startPools } from './workers/pools.ts';

/** How long a store that is starting too may take to answer, in milliseconds. */
const startPatience = 120_000;

/** Starts an engine as its environment says. Returns what runs, in the order in which it was started. */
export async function startEngine(environment: NodeJS.ProcessEnv, log: Log): Promise<readonly Service[]> {
  const config = readConfig(environment);
  const services: Service[] = [];
  const database = openDatabase(config.databaseUrl, 8);
  services.push({ name: 'the store', stop: database.close });
  await storeAnswers(database, startPatience);
  await migrateDatabase(database, config.migrations);
  const engine = await engineId(config.dataDir, config.intakePort);
  const watch = new StoreWatch(config.databaseUrl, database, engine, log);
  services.push({ name: 'the watch over the store', stop: () => watch.close() });
  const maskKey = await installationValue(database, 'mask-key', () => randomBytes(32).toString('hex'));
  // The threads get ready while the rest is read.
  const shapes = new ShapeCatalogue(database);
  const lanes = Math.max(1, Math.min(4, availableParallelism()));
  const pools = startPools(
    config.workersFolder,
    { databaseUrl: config.databaseUrl, standing: database.standing.shared, maskKey, memory: config.memory / lanes },
    lanes,
    () => shapes.version,
  );
  services.push({ name: 'the worker threads', stop: pools.close });

  const lookups = new LookupTables(database);
  const plan = await openPlan(database, () => ({ table: (name) => lookups.get(name), place: placeOf }));
  const health = new HealthRegistry(database);
  const senders = new SourceDirectory(database, log, (source) => health.forget(source));
  await senders.refresh();
  const switches = new PlanSwitches(database);
  await switches.refresh();
  await shapes.refresh();

  const headers = new HeaderCache(database);
  const knownFields = new KnownFields(database, headers);
  const measures = new Measures();
  const queue = new IntakeQueue();
  const tapeRate = new TapeRate();
  const work = new PlanStatistics();
  const learning = new Learning(database, engine, [health, work]);
  const leases = new Leases(database, engine, log);
  const changes = new Changes(database, watch, async () => {
    await plan.refresh();
    await switches.refresh();
    await senders.refresh();
    await lookups.refresh(senders.tables);
    await health.refreshPlans();
    await demo.refresh();
  });
  const demo = new DemoTraffic({
    ...{ database, leases, config, log },
    remove: async (record) => {
      await removeDemo({ database, senders, health, plan, log }, record);
      await rm(join(config.dataDir, 'files', 'demo'), { recursive: true, force: true });
      await changes.refresh();
    },
  });
  await demo.refresh();
  const lost = new LostMessages(database, measures);
  services.push({ name: 'messages that were lost', stop: () => lost.book(Date.now()) });

  // The port is what the name of the engine goes by: it is listened on before any lease is taken.
  const derived = derivedMetrics(database, pools, () => plan.current().plan);
  const disk = new DiskWatch(database, { folder: config.storeFolder, reserve: await reserveOf(config) }, log);
  await disk.look();
  const clock = new ClockGuard(database, config.clockLeap, log);
  const hindrance = (): Hindrance | undefined => {
    if (disk.isFull) return 'full';
    return watch.isThere ? undefined : 'away';
  };
  const intake = intakeServer({
    queue,
    senders,
    tapeRate,
    measures,
    database,
    hindrance,
    disk,
    metricsDoor: { token: config.metricsToken, hosts: config.metricsHosts },
    derivedMetrics: derived,
  });
  await intake.listen({ host: config.host, port: config.intakePort });
  // Events are taken in from now on. What is learnt of them waits until what was learnt before has been read.
  const learnt = learning.load();
  const arrivals = new ArrivalsHub(engine);
  const write = effectWriters({ engine, learning, followers, arrivals });
  const commits = startCommitting({
    ...{ queue, pools, database, plan, senders, switches, write, followers, arrivals, measures, log },
    hindrance,
  });
  await learnt;
  leases.want('rounds', () => roundLeases);
  leases.want('readers', () =>
    [...senders.sourcesOfKind('files'), ...senders.sourcesOfKind('objects')].map(({ name }) =>
      leaseNames.reading(name),
    ),
  );
  leases.want('demo', () => demo.names());
  const looks = await leases.start();
  services.push({ name: 'the leases', quiet: looks.stop, stop: () => leases.giveUp() });
  const save = (): Promise<void> => leases.holding(leaseNames.health, (lease) => learning.save(lease));
  services.push({ name: 'what was learnt of senders since the last save', stop: save });

  services.push(commitService(commits, log));

  let closing: Promise<unknown> = Promise.resolve();
  services.push({
    name: 'the intake',
    quiet: () => {
      closing = Promise.resolve(intake.close());
      return undefined;
    },
    stop: async () => {},
  });
  const gatherer = new SyslogGatherer({ queue, senders, tapeRate, lost: lost.count });
  services.push(await startSyslog(config, { gatherer, queue }));

  const bounds = sourceBounds(config.sourceFolders, config.sourceHosts);
  const rewinds = new Rewinds({ database, pools, senders, leases });
  const roundServices: RoundServices = {
    ...{
      database,
      pools,
      headers,
      knownFields,
      plan,
      senders,
      measures,
      health,
      work,
      changes,
      queue,
      lookups,
      bounds,
      rewinds,
      shapes,
      switches,
      arrivals,
      disk,
      clock,
      demo,
      leases,
      learning,
      lost,
    },
    ...{ config, maskKey, log },
  };
  const api = apiServer(roundServices);
  await api.listen({ host: '127.0.0.1', port: config.enginePort });
  services.push({ name: 'the internal API', stop: () => Promise.all([api.close(), closing]) });

  services.push(...startRounds(roundServices));
  services.push({ name: 'the senders of the demo', quiet: () => demo.stop() });
  const readers = { queue, senders, tapeRate, database, bounds, leases, log };
  services.push({ name: 'followed files', quiet: followFiles(readers).stop });
  services.push({ name: 'picked-up objects', quiet: pickUpObjects(readers).stop });
  void pools.warm();
  log.info(
    `The engine takes events on http://${config.host}:${config.intakePort} and syslog on port ${config.syslogPort}.`,
  );
  return services;
}
