import { randomBytes } from 'node:crypto';
import { availableParallelism } from 'node:os';
import { installationValue } from '#store/cluster/installation.ts';
import { openDatabase, storeAnswers } from '#store/database.ts';
import { migrateDatabase } from '#store/migrate.ts';
import { type EngineConfig, readConfig } from '../base/config.ts';
import type { Log } from '../base/log.ts';
import type { Service } from '../base/service.ts';
import { engineId } from '../cluster/engine-id.ts';
import { ShapeCatalogue } from '../shapes/shape-catalogue.ts';
import { StoreWatch } from '../watches/store-watch.ts';
import { type Pools, startPools } from '../workers/pools.ts';

/** How long a store that is starting too may take to answer, in milliseconds. */
const startPatience = 120_000;
/** Connections of the main thread. */
const connections = 8;

/** The store with its tables brought up to date, and the threads that work on it. What is to be stopped is added to `running`. */
export async function openStore(environment: NodeJS.ProcessEnv, log: Log, running: Service[]) {
  const config = readConfig(environment);
  const database = openDatabase(config.databaseUrl, connections);
  running.push({ name: 'the store', stop: database.close });
  await storeAnswers(database, startPatience);
  await migrateDatabase(database, config.migrations);
  const engine = await engineId(config.dataDir, config.intakePort);
  const watch = new StoreWatch(config.databaseUrl, database, engine, log);
  running.push({ name: 'the watch over the store', stop: () => watch.close() });
  const maskKey = await installationValue(database, 'mask-key', () => randomBytes(32).toString('hex'));
  const shapes = new ShapeCatalogue(database);
  const pools = poolsOf(config, { standing: database.standing.shared, maskKey }, () => shapes.version);
  running.push({ name: 'the worker threads', stop: pools.close });
  return { config, log, database, engine, watch, maskKey, shapes, pools };
}

/** The store and the threads, open. */
export type OpenStore = Awaited<ReturnType<typeof openStore>>;

/** Starts the threads: they get ready while everything else is read. */
function poolsOf(
  { workersFolder, databaseUrl, memory }: EngineConfig,
  shared: { readonly standing: OpenStore['database']['standing']['shared']; readonly maskKey: string },
  shapesVersion: () => number,
): Pools {
  const lanes = Math.max(1, Math.min(4, availableParallelism()));
  return startPools(workersFolder, { databaseUrl, ...shared, memory: memory / lanes }, lanes, shapesVersion);
}
