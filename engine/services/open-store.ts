import { randomBytes } from 'node:crypto';
import { installationValue } from '#store/cluster/installation.ts';
import { openDatabase, storeAnswers } from '#store/database.ts';
import { migrateDatabase } from '#store/migrate.ts';
import { readConfig } from '../base/config.ts';
import type { Log } from '../base/log.ts';
import type { Service } from '../base/service.ts';
import { engineId } from '../cluster/engine-id.ts';
import { ShapeCatalogue } from '../shapes/shape-catalogue.ts';
import { StoreWatch } from '../watches/store-watch.ts';
import { startPools } from '../workers/pools.ts';
import type { ProcessThreads } from '../workers/process-threads.ts';

/** How long a store that is starting too may take to answer, in milliseconds. */
const startPatience = 120_000;
/** Connections of the main thread. */
const connections = 8;

/** The store with its tables brought up to date, and the threads that work on it. What is to be stopped is added to `running`. */
export async function openStore(environment: NodeJS.ProcessEnv, threads: ProcessThreads, log: Log, running: Service[]) {
  const config = readConfig(environment);
  const database = openDatabase(config.databaseUrl, connections, threads.storeStatus);
  running.push({ name: 'the store', stop: database.close });
  await storeAnswers(database, startPatience);
  await migrateDatabase(database, config.migrations);
  const engine = await engineId(config.dataDir, config.intakePort);
  const watch = new StoreWatch(config.databaseUrl, database, engine, log);
  running.push({ name: 'the watch over the store', stop: () => watch.close() });
  const maskKey = await installationValue(database, 'mask-key', () => randomBytes(32).toString('hex'));
  const shapes = new ShapeCatalogue(database);
  new Uint8Array(threads.maskKey).set(Buffer.from(maskKey, 'hex'));
  const { databaseUrl, workersFolder } = config;
  const shared = { standing: threads.storeStatus.shared, maskKey: threads.maskKey };
  const setting = { databaseUrl, ...shared, memory: config.memory / threads.lanes };
  const pools = startPools(threads, workersFolder, setting, () => shapes.version);
  running.push({ name: 'the worker threads', stop: pools.close });
  return { config, log, database, engine, watch, maskKey, shapes, pools };
}

/** The store and the threads, open. */
export type OpenStore = Awaited<ReturnType<typeof openStore>>;
