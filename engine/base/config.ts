import { totalmem } from 'node:os';
import { join } from 'node:path';
import { number, object, string, ValidationError } from 'yup';
import { day } from '#core/events/time-units.ts';
import { parseDuration, parseQuantity } from '#core/events/units.ts';
import { usualWorkersFolder } from './workers-folder.ts';

/** How far the clock may go ahead between two looks before deletion waits for a day, unless CLOCK_LEAP says otherwise (milliseconds). */
const usualLeap = day;

/** Where the engine listens and keeps things; from the environment. */
export interface EngineConfig {
  readonly databaseUrl: string;
  readonly host: string;
  readonly intakePort: number;
  readonly syslogPort: number;
  /** Syslog over TLS. */
  readonly syslogTlsPort: number;
  /** Certificate and key for it, as files; empty for one of the engine's own. */
  readonly tlsCert: string;
  readonly tlsKey: string;
  readonly dataDir: string;
  /** Where the store keeps its data when it is on this machine (empty: somewhere else), and how many bytes stay free there. */
  readonly storeFolder: string;
  readonly diskReserve: number | undefined;
  /** How far the clock may go ahead between two looks before nothing is deleted for a day, in milliseconds. */
  readonly clockLeap: number;
  /** Internal API, always on loopback. */
  readonly enginePort: number;
  /** What the web process proves itself with; without one, nobody may use the internal API. */
  readonly engineSecret: string;
  /** Folders below which sources may have files read, and hosts that they may have asked for objects. */
  readonly sourceFolders: readonly string[];
  readonly sourceHosts: readonly string[];
  /** Where derived metrics are sent as OTLP over HTTP, every minute; empty: nowhere. */
  readonly metricsUrl: string;
  /** What whoever asks for `/metrics` has to show as a bearer token; empty: nothing. */
  readonly metricsToken: string;
  /** Names of hosts under which `/metrics` may be asked for, beside this machine's own and addresses. */
  readonly metricsHosts: readonly string[];
  /** Bytes of opened columns that all reading threads keep together. */
  readonly memory: number;
  /** After so long without a search the memory that searches took is given back, in milliseconds. */
  readonly searchRest: number;
  /** Whether reading threads get ready for the first search once the engine has started. */
  readonly warmsUp: boolean;
  readonly migrations: string;
  readonly workersFolder: string;
}

const usualSearchRest = 600_000;

/** What is kept open where nothing is said: an eighth of the machine's memory, within bounds. */
export const defaultMemory = Math.min(4e9, Math.max(3e8, totalmem() / 8));

/** Least memory that an engine can search with, in bytes. */
const leastMemory = 5e7;

function isSize(text: string, least = 0): boolean {
  const quantity = parseQuantity(text);
  return text === '' || (quantity !== undefined && quantity.unit !== 'duration' && quantity.value >= least);
}

function isAddress(text: string): boolean {
  return text === '' || (URL.canParse(text) && /^https?:$/.test(new URL(text).protocol));
}

const port = (fallback: number) => number().integer().min(0).max(65_535).default(fallback);

const schema = object({
  DATABASE_URL: string().required('DATABASE_URL is missing: it names the MariaDB to use'),
  INTAKE_HOST: string().default('127.0.0.1'),
  INTAKE_PORT: port(4318),
  SYSLOG_PORT: port(5514),
  SYSLOG_TLS_PORT: port(6514),
  TLS_CERT: string().default(''),
  TLS_KEY: string().default(''),
  DATA_DIR: string().default('.data'),
  STORE_FOLDER: string().default(''),
  DISK_RESERVE: string()
    .default('')
    .test('reserve', 'DISK_RESERVE is an amount such as 2GB', (text) => isSize(text)),
  CLOCK_LEAP: string()
    .default('')
    .test('leap', 'CLOCK_LEAP is a duration such as 1d', (text) => text === '' || parseDuration(text) !== undefined),
  ENGINE_PORT: port(4319),
  ENGINE_SECRET: string().default(''),
  SOURCE_FOLDERS: string().default('/var/log'),
  SOURCE_HOSTS: string().default(''),
  OTLP_METRICS_URL: string()
    .default('')
    .test('url', 'OTLP_METRICS_URL is an address such as http://collector:4318/v1/metrics', (text) => isAddress(text)),
  METRICS_TOKEN: string().default(''),
  METRICS_HOSTS: string().default(''),
  ENGINE_MEMORY: string()
    .default('')
    .test('memory', 'ENGINE_MEMORY is an amount of at least 50MB, such as 2GB', (text) => isSize(text, leastMemory)),
  SEARCH_REST: string()
    .default('')
    .test('rest', 'SEARCH_REST is a duration such as 10m', (text) => text === '' || parseDuration(text) !== undefined),
  WARM_UP: string().oneOf(['', 'on', 'off'], 'WARM_UP is on or off').default(''),
  MIGRATIONS: string().default('store/migrations'),
  WORKERS: string().default(usualWorkersFolder),
});

function namesIn(list: string): readonly string[] {
  return list.split(',').flatMap((name) => name.trim() || []);
}

/** Reads the environment; throws with a sentence that names the variable that is wrong. */
export function readConfig(environment: NodeJS.ProcessEnv): EngineConfig {
  try {
    const values = schema.validateSync(environment);
    return {
      databaseUrl: values.DATABASE_URL,
      host: values.INTAKE_HOST,
      intakePort: values.INTAKE_PORT,
      syslogPort: values.SYSLOG_PORT,
      syslogTlsPort: values.SYSLOG_TLS_PORT,
      tlsCert: values.TLS_CERT,
      tlsKey: values.TLS_KEY,
      dataDir: values.DATA_DIR,
      storeFolder: values.STORE_FOLDER,
      diskReserve: parseQuantity(values.DISK_RESERVE)?.value,
      clockLeap: parseDuration(values.CLOCK_LEAP) ?? usualLeap,
      enginePort: values.ENGINE_PORT,
      engineSecret: values.ENGINE_SECRET,
      sourceFolders: [...namesIn(values.SOURCE_FOLDERS), join(values.DATA_DIR, 'files')],
      sourceHosts: namesIn(values.SOURCE_HOSTS),
      metricsUrl: values.OTLP_METRICS_URL,
      metricsToken: values.METRICS_TOKEN,
      metricsHosts: namesIn(values.METRICS_HOSTS),
      memory: parseQuantity(values.ENGINE_MEMORY)?.value ?? defaultMemory,
      searchRest: parseDuration(values.SEARCH_REST) ?? usualSearchRest,
      warmsUp: values.WARM_UP !== 'off',
      migrations: values.MIGRATIONS,
      workersFolder: values.WORKERS,
    };
  } catch (error) {
    if (error instanceof ValidationError) throw new Error(`The environment is wrong: ${error.message}`);
    throw error;
  }
}
