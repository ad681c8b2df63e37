import { type ChildProcess, spawn } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { DraftAnswer } from '#core/answers/plan.ts';
import type { SourceSettings } from '#core/answers/sources.ts';
import type { OperationName } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { countChange } from '#store/cluster/counters.ts';
import { type Database, openDatabase } from '#store/database.ts';
import { removeDraft } from '#store/plan/plans.ts';
import { addToken, saveSource } from '#store/sources/sources.ts';
import { databaseWithTables } from '#store/testing/database.ts';
import { engineHeap } from '../../scripts/heap.mjs';
import { freePort } from './ports.ts';

/** An engine of its own for a test: own database, own ports. */
export interface TestEngine {
  readonly intake: string;
  readonly api: string;
  readonly syslogPort: number;
  readonly tlsPort: number;
  /** Where the engine keeps its certificate; a test may put files there. */
  readonly folder: string;
  readonly database: Database;
  /** The environment by which the web process finds engine and store. */
  readonly environment: {
    readonly DATABASE_URL: string;
    readonly ENGINE_PORT: string;
    readonly ENGINE_SECRET: string;
  };
  /** Makes a source; returns its token. */
  readonly source: (
    name: string,
    more?: {
      readonly kind?: string;
      readonly accepts?: string;
      readonly format?: string;
      readonly labels?: Readonly<Record<string, string>>;
      readonly settings?: SourceSettings;
    },
  ) => Promise<string>;
  /** Has an operation carried out, and takes its answer for what the test says it is; throws the text of a refusal. */
  readonly ask: <Answer = object>(name: OperationName, input?: object) => Promise<Answer>;
  /** As `ask`, with the answers that come before the last one. */
  readonly askInLines: <Answer = object>(name: OperationName, input?: object) => Promise<readonly Answer[]>;
  /** Has it read again what was changed in the store behind its back. */
  readonly refresh: () => Promise<void>;
  /** Stores a plan as the draft, whatever draft there is. */
  readonly saveDraft: (plan: object) => Promise<void>;
  readonly publish: (plan: PlanDocument) => Promise<void>;
  readonly search: (query: TestQuery) => Promise<TestAnswer>;
  /** Asks again until the search finds as many events as wanted, at most a minute. */
  readonly found: (query: TestQuery, total: number) => Promise<TestAnswer>;
  /** Ends the engine as if the power failed. */
  readonly kill: () => Promise<void>;
  /** Starts it again after `kill`. */
  readonly restart: () => Promise<void>;
  /** The process that runs. */
  readonly pid: () => number;
  readonly stop: () => Promise<void>;
  /** Has it end in good order, as the launcher does. */
  readonly close: () => Promise<void>;
}

export interface TestQuery {
  readonly condition?: string;
  readonly summary?: string;
  readonly limit?: number;
  readonly fields?: boolean;
  /** Slices of the histogram; 0 for none. */
  readonly buckets?: number;
  readonly tiers?: readonly string[];
}

export interface TestAnswer {
  readonly total: number;
  readonly estimated: boolean;
  readonly events: readonly {
    readonly time: number;
    readonly severity: number;
    readonly source: string;
    readonly emitter: string;
    readonly body: string;
    readonly attributes: Readonly<Record<string, unknown>>;
  }[];
  readonly summary?: { readonly rows: readonly (readonly (string | number | null)[])[] };
}

/**
 * Starts an engine on a new database of the given MariaDB, or on that of another one, under the address given where it has
 * several. The engine must have been built.
 */
export async function startEngine(mariadb: string, beside?: TestEngine, address?: string): Promise<TestEngine> {
  const url = address ?? beside?.environment.DATABASE_URL ?? (await databaseWithTables(mariadb));
  const [intakePort, enginePort, syslogPort, tlsPort] = [
    await freePort(),
    await freePort(),
    await freePort(),
    await freePort(),
  ];
  const folder = mkdtempSync(join(tmpdir(), 'otter-engine-'));
  shareCertificate(folder);
  const secret = randomBytes(12).toString('hex');
  const environment = {
    ...process.env,
    DATABASE_URL: url,
    INTAKE_PORT: String(intakePort),
    ENGINE_PORT: String(enginePort),
    SYSLOG_PORT: String(syslogPort),
    SYSLOG_TLS_PORT: String(tlsPort),
    DATA_DIR: folder,
    ENGINE_SECRET: secret,
    SOURCE_FOLDERS: beside ? `${folder},${beside.folder}` : folder,
    SOURCE_HOSTS: '127.0.0.1',
    LOG_LEVEL: process.env.TEST_LOG ?? 'fatal',
  };
  let child: ChildProcess;
  const begin = async (): Promise<void> => {
    child = spawn('node', [...engineHeap, '.build/engine/main.js'], {
      env: environment,
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    await Promise.race([
      once(child, 'message'),
      once(child, 'exit').then(() => Promise.reject(new Error('the engine ended before it was ready'))),
    ]);
  };
  await begin();
  keepCertificate(folder);
  const database = openDatabase(url, 2);
  const api = `http://127.0.0.1:${enginePort}`;
  const textOf = async (name: OperationName, input: object, accept = 'application/json'): Promise<string> => {
    const answer = await fetch(`${api}/operations/${name}`, {
      method: 'POST',
      headers: { 'content-type': 'application/json', authorization: `Bearer ${secret}`, accept },
      body: JSON.stringify(input),
    });
    const text = await answer.text();
    if (!answer.ok) throw new Error(text);
    return text;
  };
  const ask = async (name: OperationName, input: object = {}): Promise<unknown> =>
    JSON.parse(await textOf(name, input));
  const askInLines = async (name: OperationName, input: object = {}): Promise<readonly unknown[]> => {
    const text = await textOf(name, input, 'application/x-ndjson');
    return text
      .trim()
      .split('\n')
      .map((line) => {
        const { progress, result, problem } = JSON.parse(line);
        if (problem) throw new Error(problem);
        return progress ?? result;
      });
  };
  const refresh = async (): Promise<void> => {
    await fetch(`${api}/refresh`, { method: 'POST', headers: { authorization: `Bearer ${secret}` } });
  };
  const saveDraft = async (plan: object): Promise<void> => {
    await removeDraft(database.db);
    await ask('saveDraft', { plan });
  };
  const search = async ({
    condition = '',
    summary: show = '',
    limit = 100,
    fields = false,
    buckets,
    tiers,
  }: TestQuery): Promise<TestAnswer> => {
    const window = { from: 0, to: Date.now() + 3 * 86_400_000 };
    const more = { background: true, ...(tiers && { tiers }), ...(buckets !== undefined && { buckets }) };
    // What a test asks for is in its answer.
    return (await ask('search', { condition, show, limit, fields, ...window, ...more })) as TestAnswer;
  };
  return {
    intake: `http://127.0.0.1:${intakePort}`,
    api,
    syslogPort,
    tlsPort,
    folder,
    environment: { DATABASE_URL: url, ENGINE_PORT: String(enginePort), ENGINE_SECRET: secret },
    ask: async (name, input) => (await ask(name, input)) as never,
    askInLines: async (name, input) => (await askInLines(name, input)) as never,
    refresh,
    saveDraft,
    database,
    search,
    source: async (source, { kind = 'http', accepts = '', format = 'auto', labels = {}, settings = {} } = {}) => {
      const token = `token-${source}`;
      await saveSource(database.db, {
        name: source,
        kind,
        format,
        owner: '',
        labels,
        accepts,
        settings,
        createdAt: Date.now(),
      });
      const hash = createHash('sha256').update(token).digest('hex');
      await addToken(database.db, { hash, source, hint: 'test', backfill: true, createdAt: Date.now() });
      await countChange(database.db);
      await refresh();
      return token;
    },
    publish: async (plan) => {
      await saveDraft(plan);
      // Stored events may go: that is what the test is about, or of no matter to it. More may be stored meanwhile.
      for (let letGo: readonly string[] | undefined = []; letGo; )
        letGo = await ask('publishDraft', { note: 'test', letGo }).then(() => undefined, leavingOrLive);
    },
    found: async (query, total) => {
      const end = Date.now() + 60_000;
      for (;;) {
        const answer = await search(query);
        if (answer.total >= total || Date.now() > end) return answer;
      }
    },
    kill: async () => {
      const ended = once(child, 'exit');
      child.kill('SIGKILL');
      await ended;
    },
    close: async () => {
      const ended = once(child, 'exit');
      child.kill('SIGTERM');
      await ended;
    },
    restart: begin,
    pid: () => child.pid ?? 0,
    stop: async () => {
      const ended = child.exitCode === null && child.signalCode === null ? once(child, 'exit') : Promise.resolve();
      child.kill('SIGTERM');
      await ended;
      await database.close();
      rmSync(folder, { recursive: true, force: true });
    },
  };
}

const certificateFiles = ['syslog-cert.pem', 'syslog-key.pem'];
const certificate = new Map<string, Buffer>();

/** Gives a new engine the certificate of the first one that this process started: making one takes a quarter of a second. */
function shareCertificate(folder: string): void {
  for (const [file, content] of certificate) writeFileSync(join(folder, file), content, { mode: 0o600 });
}

function keepCertificate(folder: string): void {
  if (certificate.size > 0) return;
  for (const file of certificateFiles) certificate.set(file, readFileSync(join(folder, file)));
}

/** The tiers that a refusal to publish wants to be named; none where the plan is live already and left no draft. */
function leavingOrLive(error: Error): readonly string[] | undefined {
  if (error.message.includes('There is no draft')) return undefined;
  // Refusals are answered as JSON; everything else is what the test is failed with.
  const { leaving }: { readonly leaving?: DraftAnswer['leaving'] } = error.message.startsWith('{')
    ? JSON.parse(error.message)
    : {};
  if (!leaving) throw error;
  return leaving.map(({ tier }) => tier);
}

/** Posts a body to a source. */
export function send(
  engine: TestEngine,
  source: string,
  body: string | Uint8Array,
  headers: Readonly<Record<string, string>> = {},
): Promise<Response> {
  return fetch(`${engine.intake}/intake/${source}`, {
    method: 'POST',
    headers: { authorization: `Bearer token-${source}`, ...headers },
    body: body as BodyInit,
  });
}
