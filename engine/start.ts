import { randomBytes } from 'node:crypto';
import { rm } from 'node:fs/promises';
import { availableParallelism } from 'node:os';
import { join } from 'node:path';
import { withSwitched } from '#core/plan/postures.ts';
import { openDatabase, storeAnswers } from '#store/database.ts';
import { installationValue } from '#store/installation.ts';
import type { Lease } from '#store/leases.ts';
import { migrateDatabase } from '#store/migrate.ts';
import { apiServer } from './api/server.ts';
import { ArrivalsHub } from './arrivals/arrivals-hub.ts';
import { readConfig } from './base/config.ts';
import type { Log } from './base/log.ts';
import { leftMore, type Pause, repeat } from './base/repeat.ts';
import type { Service } from './base/service.ts';
import { Changes } from './cluster/changes.ts';
import { engineId } from './cluster/engine-id.ts';
import { Leases, leaseNames } from './cluster/leases.ts';
import { startCommitting } from './commit/groups.ts';
import { effectWriters } from './commit/writers/index.ts';
import { Compaction } from './compaction/compact.ts';
import type { Hindrance } from './deliveries/hindrance.ts';
import { DemoTraffic } from './demo/demo-traffic.ts';
import { removeDemo } from './demo/remove-demo.ts';
import { HealthRegistry } from './health/registry.ts';
import { SurgeWatch } from './health/surge-watch.ts';
import { VolumeWatch } from './health/volume-watch.ts';
import { certificateFor } from './intake/certificate.ts';
import { followFiles } from './intake/files/follow.ts';
import { intakeServer } from './intake/http.ts';
import { LostMessages } from './intake/lost-messages.ts';
import { pickUpObjects } from './intake/objects/pick-up.ts';
import { IntakeQueue } from './intake/queue.ts';
import { SyslogGatherer } from './intake/syslog.ts';
import { listenTcp } from './intake/syslog-tcp.ts';
import { listenUdp } from './intake/syslog-udp.ts';
import { TapeRate } from './intake/tape-rate.ts';
import { Learning } from './learning/learning.ts';
import { Measures } from './measures/measures.ts';
import { derivedMetrics } from './metrics/derived-metrics.ts';
import { noteSeriesOfToday } from './metrics/metric-days.ts';
import { fillRound } from './metrics/metric-fill.ts';
import { MetricFolding } from './metrics/metric-folding.ts';
import { type MetricBegins, metricBegins } from './metrics/metric-revisions.ts';
import { expireMetrics, rollUpMetrics } from './metrics/metric-roll-ups.ts';
import { drain } from './outgoing/drain.ts';
import { followers } from './outgoing/index.ts';
import { OtlpMetrics } from './outlets/otlp-metrics.ts';
import { openPlan } from './plan/live-plan.ts';
import { LiveWork } from './plan/plan-statistics.ts';
import { PlanSwitches } from './plan/plan-switches.ts';
import { Rewinds } from './reprocessing/rewind.ts';
import { expireRound } from './retention/expire.ts';
import { HeaderCache } from './search/header-cache.ts';
import { KnownFields } from './search/known-fields.ts';
import { ShapeCatalogue } from './shapes/shape-catalogue.ts';
import { ShapeDecisions } from './shapes/shape-decisions.ts';
import { sourceBounds } from './sources/source-bounds.ts';
import { Senders } from './sources/source-directory.ts';
import { expireTalkers } from './talkers/talker-roll-ups.ts';
import { ClockGuard } from './watches/clock-guard.ts';
import { DiskWatch, reserveOf } from './watches/disk-watch.ts';
import { StoreWatch } from './watches/store-watch.ts';
import { LookupTables } from './workers/lookup-tables.ts';
import { placeOf } from './workers/places.ts';
import { startPools } from './workers/pools.ts';

/** How long a store that is starting too may take to answer, in milliseconds. */
const startPatience = 120_000;
/** How long what waits may take to be committed when the engine stops, in milliseconds. */
const commitPatience = 12_000;
/**
 * How long what groups brought for metrics and rankings waits to be put where it belongs: it takes about the fiftieth part of
 * a thread's time at most, as long as eight seconds are enough for that. What trickles in is gathered for a dozen seconds, while
 * what comes after a silence is there at once.
 */
const foldingPause: Pause = { least: 2_000, most: 8_000, times: 50, busy: 12_000 };

/** Coarser levels of metrics are kept up with the finer ones so often, and sooner where there is a backlog. */
const rollUpPause: Pause = { least: 20_000, most: 20_000, times: 1, more: 1_000 };

/** Starts an engine as its environment says. Returns what runs, in the order in which it was started. */
export async function startEngine(environment: NodeJS.ProcessEnv, log: Log): Promise<readonly Service[]> {
  const config = readConfig(environment);
  const services: Service[] = [];
  const regularly = (name: string, pause: Pause, work: () => Promise<unknown>): void => {
    const { stop } = repeat(pause, log, work);
    services.push({ name, quiet: stop });
  };

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
  const senders = new Senders(database, log, (source) => health.forget(source));
  await senders.refresh();
  const switches = new PlanSwitches(database);
  await switches.refresh();
  await shapes.refresh();

  const headers = new HeaderCache(database);
  const knownFields = new KnownFields(database, headers);
  const measures = new Measures();
  const queue = new IntakeQueue();
  const tapeRate = new TapeRate();
  const work = new LiveWork();
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
  leases.want('rounds', () => [
    leaseNames.merging,
    leaseNames.retention,
    leaseNames.health,
    leaseNames.rewinds,
    leaseNames.shapes,
    leaseNames.metrics,
    leaseNames.talkers,
  ]);
  leases.want('readers', () =>
    [...senders.sourcesOfKind('files'), ...senders.sourcesOfKind('objects')].map(({ name }) =>
      leaseNames.reading(name),
    ),
  );
  leases.want('demo', () => demo.names());
  leases.want('spools', () => followers.map(({ name }) => leaseNames.spool(name)));
  const looks = await leases.start();
  services.push({ name: 'the leases', quiet: looks.stop, stop: () => leases.giveUp() });
  const save = (): Promise<void> => leases.holding(leaseNames.health, (lease) => learning.save(lease));
  services.push({ name: 'what was learnt of senders since the last save', stop: save });

  services.push({
    name: 'commits',
    patience: commitPatience + 3_000,
    stop: async () => {
      const { length } = await commits.stop(commitPatience);
      if (length > 0)
        log.error(
          `${length} deliveries could not be committed before the engine stopped, as the store did not answer.`,
        );
    },
  });

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
  const udp = await listenUdp(gatherer, config.host, config.syslogPort);
  const tcp = await listenTcp({ gatherer, queue, host: config.host, port: config.syslogPort });
  const certificate = await certificateFor(config.dataDir, config.tlsCert, config.tlsKey);
  const tls = await listenTcp({ gatherer, queue, host: config.host, port: config.syslogTlsPort, certificate });
  services.push({
    name: 'syslog',
    quiet: async () => {
      await Promise.all([tcp.stop(), tls.stop(), new Promise<void>((resolve) => udp.close(() => resolve()))]);
      await gatherer.flush();
    },
  });

  const bounds = sourceBounds(config.sourceFolders, config.sourceHosts);
  const rewinds = new Rewinds({ database, pools, senders, leases });
  const api = apiServer({
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
    },
    ...{ config, maskKey, log },
  });
  await api.listen({ host: '127.0.0.1', port: config.enginePort });
  services.push({ name: 'the internal API', stop: () => Promise.all([api.close(), closing]) });

  const compaction = new Compaction(database, pools, measures, log);
  const volumes = new VolumeWatch(database);
  const surges = new SurgeWatch(database);
  const isHolder = (name: string): boolean => leases.get(name) !== undefined;
  /** Whether there was something to do at the last look. */
  const isThere = (what: 'hasNewShapes' | 'hasRewinds' | 'hasFills' | 'hasToldByOthers'): boolean =>
    changes.news?.[what] ?? true;
  regularly('changes', 500, () => changes.look());
  regularly('the demo', 1_000, () => demo.turn());
  services.push({ name: 'the senders of the demo', quiet: () => demo.stop() });
  regularly('the disk', 1_000, () => disk.look());
  regularly('memory', Math.min(60_000, config.searchRest), () => pools.giveBack(config.searchRest));
  regularly('lost messages', 2_000, () => lost.book(Date.now()));
  let begins: MetricBegins = { upTo: 0, revisions: [] };
  regularly('merging', 3_000, () =>
    leases.holding(leaseNames.merging, async () => {
      // It needs more room before it needs less.
      if (disk.isFull || !compaction.isDue(Date.now())) return;
      const { revision } = plan.current();
      if (begins.upTo !== revision) begins = await metricBegins(database, revision);
      await compaction.round(begins, Date.now());
    }),
  );
  /** Does something that deletes what is past its time, or makes it coarser, as the holder of a lease. */
  const deleting = (name: string, work: (lease: Lease) => Promise<unknown>) =>
    leases.holding(name, async (lease) => (await clock.mayDelete(Date.now())) && (await work(lease)));
  regularly('retention', 30_000, () =>
    deleting(leaseNames.retention, async () => {
      const now = Date.now();
      await expireRound(database, withSwitched(plan.current().plan, switches.at(now)), now);
    }),
  );
  const decisions = new ShapeDecisions(database);
  regularly('shapes', 1_000, async () => {
    const decides = (lease: Lease): Promise<boolean> => decisions.round(lease);
    const decided = isThere('hasNewShapes') && (await leases.holding(leaseNames.shapes, decides));
    await (decided ? shapes.refresh() : shapes.follow(changes.news?.shapesVersion ?? 0));
  });
  const folding = new MetricFolding(database);
  regularly('metrics', foldingPause, () =>
    leases.holding(leaseNames.metrics, async (lease) => (await folding.round(lease, Date.now())) > 0),
  );
  // History that was brought in is rolled up as soon as a part of a thread allows.
  regularly('rolling up metrics', rollUpPause, () =>
    deleting(leaseNames.metrics, async (lease) => (await rollUpMetrics(database, lease, Date.now())) && leftMore),
  );
  regularly('filling metrics in', 2_000, async () => {
    if (!isThere('hasFills')) return;
    await leases.holding(leaseNames.metrics, (lease) => fillRound({ database, pools, senders }, lease, plan.current()));
  });
  const otlp = new OtlpMetrics({ database, pools, plan: () => plan.current().plan, log, url: config.metricsUrl });
  regularly('sending metrics', 60_000, () =>
    leases.holding(leaseNames.metrics, async () => void (await otlp.send(Date.now()))),
  );
  regularly('counting series', 60_000, () =>
    leases.holding(leaseNames.metrics, () => noteSeriesOfToday(database, plan.current().plan, Date.now())),
  );
  regularly('expiry of metrics', 600_000, () =>
    deleting(leaseNames.metrics, () => expireMetrics(database, plan.current().plan, Date.now())),
  );
  const talkerRound = (work: 'fold' | 'roll up', lease: Lease) =>
    pools.aside({ kind: 'talkerRound', lease, now: Date.now(), work });
  regularly('talkers', foldingPause, () => leases.holding(leaseNames.talkers, (lease) => talkerRound('fold', lease)));
  regularly('rolling up talkers', 20_000, () => deleting(leaseNames.talkers, (lease) => talkerRound('roll up', lease)));
  regularly('expiry of talkers', 600_000, () =>
    deleting(leaseNames.talkers, () => expireTalkers(database, Date.now())),
  );
  regularly('rewinds', 1_000, async () => {
    if (isThere('hasRewinds')) await leases.holding(leaseNames.rewinds, () => rewinds.resume());
  });
  regularly('listening to other engines', 1_000, () => learning.listen(isThere('hasToldByOthers')));
  regularly('closing minutes', 5_000, () => health.closeMinutes(Date.now(), isHolder(leaseNames.health)));
  regularly('volumes', 120_000, () =>
    leases.holding(leaseNames.health, ({ token }) => volumes.look(Date.now(), token)),
  );
  regularly('surges', 30_000, () => leases.holding(leaseNames.health, () => surges.look(Date.now())));
  regularly('saving what was learnt', 30_000, async () => {
    if (isHolder(leaseNames.health)) await save();
    else learning.letOthersSave();
  });
  for (const follower of followers)
    regularly(`the spool of ${follower.name}`, 1_000, () =>
      leases.holding(leaseNames.spool(follower.name), async (lease) => void (await drain(database, lease, follower))),
    );
  const readers = { queue, senders, tapeRate, database, bounds, leases, log };
  services.push({ name: 'followed files', quiet: followFiles(readers).stop });
  services.push({ name: 'picked-up objects', quiet: pickUpObjects(readers).stop });
  void pools.warm();
  log.info(
    `The engine takes events on http://${config.host}:${config.intakePort} and syslog on port ${config.syslogPort}.`,
  );
  return services;
}
