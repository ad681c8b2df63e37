import { availableParallelism } from 'node:os';
import pino from 'pino';
import { ledgerStart } from '#core/routing/ledger.ts';
import { migrateDatabase, openDatabase } from '#store/database.ts';
import { addToLedger } from '#store/ledger.ts';
import { latestRevision } from '#store/plans.ts';
import { apiServer } from './api/server.ts';
import { startCommitting } from './commit/groups.ts';
import { compactRound } from './compaction/compact.ts';
import { readConfig } from './config.ts';
import { HealthRegistry } from './health/registry.ts';
import { VolumeWatch } from './health/volume-watch.ts';
import { certificateFor } from './intake/certificate.ts';
import { followFiles } from './intake/files.ts';
import { intakeServer } from './intake/http.ts';
import { pickUpObjects } from './intake/objects.ts';
import { IntakeQueue } from './intake/queue.ts';
import { Senders } from './intake/senders.ts';
import { SyslogGatherer } from './intake/syslog.ts';
import { listenTcp } from './intake/syslog-tcp.ts';
import { listenUdp } from './intake/syslog-udp.ts';
import { TapeRate } from './intake/tape-rate.ts';
import { Measures } from './measures.ts';
import { openPlan } from './plan.ts';
import { repeat } from './repeat.ts';
import { expireRound } from './retention/expire.ts';
import { LookupTables } from './workers/lookup-tables.ts';
import { placeOf } from './workers/places.ts';
import { startPools } from './workers/pools.ts';

const log = pino({ level: process.env.LOG_LEVEL ?? 'info' });

async function start(): Promise<void> {
  const config = readConfig(process.env);
  const database = openDatabase(config.databaseUrl, 8);
  await migrateDatabase(database, config.migrations);
  const lookups = new LookupTables(database);
  const plan = await openPlan(database, () => ({ table: (name) => lookups.get(name), place: placeOf }));
  const senders = new Senders(database, log);
  await senders.refresh();
  const lanes = Math.max(1, Math.min(4, availableParallelism()));
  const pools = startPools(config.workersFolder, config.databaseUrl, lanes);
  const measures = new Measures();
  const queue = new IntakeQueue();
  const tapeRate = new TapeRate();
  let storeAnswers = true;
  let unbookedLost = 0;
  const lost = (messages: number): void => {
    measures.lost += messages;
    unbookedLost += messages;
  };
  const health = new HealthRegistry(database);
  await health.load();
  const volumes = new VolumeWatch(database);
  const commits = startCommitting({ queue, pools, database, plan, senders, health, measures, log });
  const gatherer = new SyslogGatherer({ queue, senders, tapeRate, lost });
  const intake = intakeServer({ queue, senders, tapeRate, measures, database, ready: () => storeAnswers });
  await intake.listen({ host: config.host, port: config.intakePort });
  const udp = await listenUdp(gatherer, config.host, config.syslogPort);
  const tcp = await listenTcp(gatherer, queue, config.host, config.syslogPort);
  const certificate = await certificateFor(config.dataDir, config.tlsCert, config.tlsKey);
  const tls = await listenTcp(gatherer, queue, config.host, config.syslogTlsPort, certificate);
  const readers = { queue, senders, tapeRate, database, log };
  const api = apiServer({ database, pools, plan, senders, measures, health, queue, lookups });
  await api.listen({ host: '127.0.0.1', port: config.enginePort });

  const rounds = [
    repeat(2_000, log, async () => {
      storeAnswers = await latestRevision(database).then(
        () => true,
        () => false,
      );
      if (!storeAnswers) return;
      await plan.refresh();
      await senders.refresh();
      await lookups.refresh(senders.tables);
      if (unbookedLost > 0) {
        const events = unbookedLost;
        unbookedLost = 0;
        const start = ledgerStart(Date.now(), Date.now());
        await addToLedger(database.db, [
          {
            start,
            source: 'syslog',
            outcome: 'lost',
            tier: '',
            rule: 'udp',
            parsed: false,
            events,
            bytes: 0,
            stored: 0,
          },
        ]);
      }
    }),
    repeat(3_000, log, async () => {
      await compactRound(database, pools, measures, plan.current().revision, log);
    }),
    repeat(30_000, log, () => expireRound(database, plan.current().plan, Date.now())),
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
    for (const round of rounds) round.stop();
    udp.close();
    tcp.close();
    tls.close();
    await gatherer.flush();
    await intake.close();
    await api.close();
    await commits.stop();
    await health.save();
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
