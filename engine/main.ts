import { randomBytes } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { migrateDatabase, openDatabase, storeAnswers } from '#store/database.ts';
import { installationValue } from '#store/installation.ts';
import { latestRevision } from '#store/plans.ts';
import { apiServer } from './api/server.ts';
import { startCommitting } from './commit/groups.ts';
import { Compaction } from './compaction/compact.ts';
import { readConfig } from './config.ts';
import { HealthRegistry } from './health/registry.ts';
import { VolumeWatch } from './health/volume-watch.ts';
import { certificateFor } from './intake/certificate.ts';
import { followFiles } from './intake/files/follow.ts';
import { intakeServer } from './intake/http.ts';
import { LostMessages } from './intake/lost-messages.ts';
import { pickUpObjects } from './intake/objects/pick-up.ts';
import { IntakeQueue } from './intake/queue.ts';
import { Senders } from './intake/senders.ts';
import { sourceBounds } from './intake/source-bounds.ts';
import { SyslogGatherer } from './intake/syslog.ts';
import { listenTcp } from './intake/syslog-tcp.ts';
import { listenUdp } from './intake/syslog-udp.ts';
import { TapeRate } from './intake/tape-rate.ts';
import { openLog } from './log.ts';
import { Measures } from './measures.ts';
import { openPlan } from './plan.ts';
import { repeat } from './repeat.ts';
import { expireRound } from './retention/expire.ts';
import { Rewinds } from './rewind.ts';
import { LookupTables } from './workers/lookup-tables.ts';
import { placeOf } from './workers/places.ts';
import { startPools } from './workers/pools.ts';

const log = openLog(process.env.LOG_LEVEL ?? 'info');

/** How long a store that is starting too may take to answer, in milliseconds. */
const startPatience = 120_000;

/** How long what waits may take to be committed when the engine stops, in milliseconds. */
const stopPatience = 12_000;
/** And what is done regularly, such as merging, to come to an end. */
const roundPatience = 3_000;

async function start(): Promise<void> {
  const config = readConfig(process.env);
  const database = openDatabase(config.databaseUrl, 8);
  await storeAnswers(database, startPatience);
  await migrateDatabase(database, config.migrations);
  const lookups = new LookupTables(database);
  const plan = await openPlan(database, () => ({ table: (name) => lookups.get(name), place: placeOf }));
  const senders = new Senders(database, log);
  await senders.refresh();
  const lanes = Math.max(1, Math.min(4, availableParallelism()));
  const maskKey = await installationValue(database, 'mask-key', () => randomBytes(32).toString('hex'));
  const pools = startPools(config.workersFolder, { databaseUrl: config.databaseUrl, maskKey }, lanes);
  const bounds = sourceBounds(config.sourceFolders, config.sourceHosts);
  const measures = new Measures();
  const queue = new IntakeQueue();
  const tapeRate = new TapeRate();
  let isStoreThere = true;
  const lost = new LostMessages(database, measures);
  const health = new HealthRegistry(database);
  await health.load();
  const volumes = new VolumeWatch(database);
  const commits = startCommitting({ queue, pools, database, plan, senders, health, measures, log });
  const gatherer = new SyslogGatherer({ queue, senders, tapeRate, lost: lost.count });
  const intake = intakeServer({ queue, senders, tapeRate, measures, database, ready: () => isStoreThere });
  await intake.listen({ host: config.host, port: config.intakePort });
  const udp = await listenUdp(gatherer, config.host, config.syslogPort);
  const tcp = await listenTcp(gatherer, queue, config.host, config.syslogPort);
  const certificate = await certificateFor(config.dataDir, config.tlsCert, config.tlsKey);
  const tls = await listenTcp(gatherer, queue, config.host, config.syslogTlsPort, certificate);
  const readers = { queue, senders, tapeRate, database, bounds, log };
  const rewinds = new Rewinds({ database, pools, senders });
  const compaction = new Compaction(database, pools, measures, log);
  const api = apiServer({
    database,
    pools,
    plan,
    senders,
    measures,
    health,
    queue,
    lookups,
    bounds,
    rewinds,
    maskKey,
    secret: config.engineSecret,
    log,
  });
  await api.listen({ host: '127.0.0.1', port: config.enginePort });

  const rounds = [
    repeat(2_000, log, async () => {
      isStoreThere = await latestRevision(database).then(
        () => true,
        () => false,
      );
      if (!isStoreThere) return;
      await plan.refresh();
      await senders.refresh();
      await lookups.refresh(senders.tables);
      await lost.book(Date.now());
    }),
    repeat(3_000, log, async () => {
      await compaction.round(plan.current().revision, Date.now());
    }),
    repeat(30_000, log, () => expireRound(database, plan.current().plan, Date.now())),
    repeat(5_000, log, () => rewinds.resume()),
    repeat(5_000, log, () => health.closeMinutes(Date.now())),
    repeat(120_000, log, () => volumes.look(Date.now())),
    repeat(30_000, log, () => health.save()),
    followFiles(readers),
    pickUpObjects(readers),
  ];
  log.info(
    `The engine takes events on http://${config.host}:${config.intakePort} and syslog on port ${config.syslogPort}.`,
  );
  process.send?.('ready');

  let stopping = false;
  const stop = async (): Promise<void> => {
    if (stopping) return;
    stopping = true;
    const quiet = Promise.all(rounds.map((round) => round.stop()));
    // First nothing more is read, then what was read is committed and answered, then everything is let go.
    const closing = intake.close();
    await Promise.all([tcp.stop(), tls.stop()]);
    await new Promise<void>((resolve) => udp.close(() => resolve()));
    await gatherer.flush();
    const left = await commits.stop(stopPatience);
    if (left.length > 0)
      log.error(
        `${left.length} deliveries could not be committed before the engine stopped, as the store did not answer.`,
      );
    await Promise.race([quiet, new Promise((resolve) => setTimeout(resolve, roundPatience))]);
    await closing;
    await lost.book(Date.now()).catch(() => log.error('How many messages were lost last could not be booked.'));
    await api.close();
    await health
      .save()
      .catch((error: unknown) => log.error({ err: error }, 'What was learnt of senders since the last save is lost.'));
    await pools.close();
    await database.close();
    process.exit(0);
  };
  process.on('SIGTERM', stop);
  process.on('SIGINT', stop);
}

start().catch((error: unknown) => {
  log.fatal({ err: error }, 'The engine could not start.');
  process.exit(1);
});
