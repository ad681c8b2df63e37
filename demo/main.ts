import { createHash } from 'node:crypto';
import { basename, resolve } from 'node:path';
import { number, object, string } from 'yup';
import { hour, minute } from '#core/events/time-units.ts';
import { parseDuration } from '#core/events/units.ts';
import { stackTraceRule } from '#core/formats/join.ts';
import { firstPlan } from '#core/plan/document.ts';
import { isSame } from '#core/plan/merge.ts';
import { countChange } from '#store/cluster/counters.ts';
import { type Database, openDatabase } from '#store/database.ts';
import { type DemoRecord, noteDemo, readDemo } from '#store/demo.ts';
import { latestRevision } from '#store/plan/plans.ts';
import { addPriceBook, latestPriceBook } from '#store/plan/price-books.ts';
import { listFleets, saveFleet } from '#store/sources/fleets.ts';
import { addToken, listSources, saveSource } from '#store/sources/sources.ts';
import { firstAndLastSeen } from '#store/volume/ledger.ts';
import { eventsOfHour } from './generate.ts';
import { harbourLog, writeHarbourLog } from './harbour-log.ts';
import { serveObjects, writeWeather } from './object-store.ts';
import { demoPlan } from './plan.ts';
import { demoPrices } from './prices.ts';
import { type Intake, SyslogSender, sendOverHttp } from './send.ts';
import type { DemoEvent, DemoSource } from './source.ts';
import { demoSources } from './sources/index.ts';
import { type Happenings, happeningsOf } from './world.ts';

const seed = 'skerry';

const settings = object({
  DATABASE_URL: string().required(),
  INTAKE_PORT: number().required(),
  ENGINE_PORT: number().required(),
  ENGINE_SECRET: string().required(),
  SYSLOG_PORT: number().required(),
  OBJECTS_PORT: number().default(0),
  DATA_DIR: string().required(),
  /** Set by an engine whose installation has loaded the demo data, and may remove it again. */
  DEMO_IN_INSTALLATION: string().default(''),
  /** How much of the past is sent; absent: two weeks. */
  DEMO_PAST: string().default('14d'),
}).validateSync(process.env);

const isGuest = settings.DEMO_IN_INSTALLATION !== '';
const past = parseDuration(settings.DEMO_PAST) ?? 14 * 24 * hour;

const intake: Intake = { url: `http://127.0.0.1:${settings.INTAKE_PORT}`, syslogPort: settings.SYSLOG_PORT };

/** The demo's tokens follow from the seed, so that a restart needs no store of its own. */
function tokenOf(source: DemoSource): string {
  return `skerry_${createHash('sha256').update(`${seed} ${source.name}`).digest('hex').slice(0, 24)}`;
}

async function callEngine(path: string, body: object): Promise<void> {
  const answer = await fetch(`http://127.0.0.1:${settings.ENGINE_PORT}${path}`, {
    method: 'POST',
    headers: { 'content-type': 'application/json', authorization: `Bearer ${settings.ENGINE_SECRET}` },
    body: JSON.stringify(body),
  });
  if (!answer.ok) throw new Error(`The engine answered ${answer.status}: ${await answer.text()}`);
}

/** All sources of the demo: those that are read, and those that send. */
const sourceNames = ['harbour-desk', 'weather', ...demoSources.map(({ name }) => name)];

/** Settings that mark a source as part of the demo data. */
const mark = isGuest ? { demo: true } : {};

/** Where the demo keeps the files and objects that are read from it; an installation deletes the folder with the rest. */
const demoFolder = resolve(settings.DATA_DIR, 'files', isGuest ? 'demo' : '');
const objectsFolder = resolve(demoFolder, 'objects');

/** Sources that are read rather than sent, and the fleets; what people changed in them since stays. */
async function prepareReaders(database: Database, begin: number): Promise<void> {
  const known = new Map((await listSources(database)).map((source) => [source.name, source]));
  const common = { format: 'auto', accepts: '', createdAt: begin };
  const log = `${harbourLog(demoFolder)}*`;
  const desk = known.get('harbour-desk');
  if (!desk) {
    await saveSource(database.db, {
      ...common,
      name: 'harbour-desk',
      kind: 'files',
      owner: 'harbour',
      labels: { site: 'piers', environment: 'prod' },
      settings: { ...mark, globs: [log], join: stackTraceRule },
    });
  } else {
    // The data folder may have been moved or copied.
    const globs = desk.settings.globs?.map((glob) => (basename(glob) === basename(log) ? log : glob));
    if (globs && !isSame(globs, desk.settings.globs))
      await saveSource(database.db, { ...desk, settings: { ...desk.settings, globs } });
  }
  const weather = known.get('weather');
  // The port of the object store may have changed. An installation reads the objects from its own folder, which is always allowed.
  const url = isGuest ? `file://${objectsFolder}` : `http://127.0.0.1:${settings.OBJECTS_PORT}/objects/`;
  if (weather) await saveSource(database.db, { ...weather, settings: { ...weather.settings, url } });
  else {
    await saveSource(database.db, {
      ...common,
      name: 'weather',
      kind: 'objects',
      owner: 'harbour',
      labels: { site: 'sea', environment: 'prod' },
      settings: { ...mark, url, path: 'weather/{day}/{region}-{}.csv.gz' },
    });
  }
}

/** Creates the fleets unless there are some. */
async function prepareFleets(database: Database): Promise<void> {
  if ((await listFleets(database)).length > 0) return;
  await saveFleet(database.db, { name: 'piers', condition: 'site = piers' });
  await saveFleet(database.db, { name: 'booking', condition: 'owner in (booking, payments)' });
  await note(database, { fleets: ['piers', 'booking'] });
}

/** Records what came with the demo data, in an installation that may remove it again. */
async function note(database: Database, more: Partial<DemoRecord>): Promise<void> {
  if (isGuest) await noteDemo(database, more);
}

/** Saves the price book unless there is one. */
async function preparePrices(database: Database, begin: number): Promise<void> {
  if (await latestPriceBook(database.db)) return;
  const now = Date.now();
  await addPriceBook(database.db, demoPrices(begin, now), now);
  await note(database, { pricesAt: now });
}

/** Publishes the plan unless the first one was changed. */
async function preparePlan(database: Database): Promise<void> {
  const latest = await latestRevision(database.db);
  if (latest && !isSame(JSON.parse(latest.plan), firstPlan)) return;
  await callEngine('/operations/saveDraft', { plan: demoPlan });
  await callEngine('/operations/publishDraft', { note: 'The plan of the Skerry Line' });
  const published = await latestRevision(database.db);
  if (published) await note(database, { revision: published.number });
}

/** Creates the sources that send, with their tokens. */
async function prepareSenders(database: Database, begin: number): Promise<void> {
  const known = new Map((await listSources(database)).map(({ name, settings: of }) => [name, of]));
  const foreign = isGuest && sourceNames.find((name) => known.has(name) && !known.get(name)?.demo);
  if (foreign) throw new Error(`There is a source ${foreign} already.`);
  for (const source of demoSources) {
    const token = tokenOf(source);
    const { name, owner, labels, accepts, transport } = source;
    const kind = transport.startsWith('syslog') ? 'syslog' : transport.startsWith('otlp') ? 'otlp' : 'http';
    const common = { name, kind, format: 'auto', owner, labels, accepts, createdAt: begin };
    await saveSource(database.db, { ...common, ...(isGuest && { settings: mark }) });
    const hash = createHash('sha256').update(token).digest('hex');
    await addToken(database.db, { hash, source: name, hint: token.slice(-4), backfill: true, createdAt: begin });
  }
}

/** When events of the demo's sources first and last arrived, by source. */
async function storedBefore(database: Database): Promise<Awaited<ReturnType<typeof firstAndLastSeen>>> {
  return new Map([...(await firstAndLastSeen(database))].filter(([name]) => sourceNames.includes(name)));
}

async function prepare(
  database: Database,
): Promise<{ readonly happenings: Happenings; readonly since: ReadonlyMap<string, number> }> {
  const seen = await storedBefore(database);
  const first = Math.min(...[...seen.values()].map((times) => times.first));
  const begin = Number.isFinite(first) ? first : happeningsOf(Date.now()).begin;
  const fresh = !Number.isFinite(first);
  await prepareSenders(database, begin);
  await prepareReaders(database, begin);
  await prepareFleets(database);
  await preparePrices(database, begin);
  await countChange(database.db);
  await callEngine('/refresh', {});
  await preparePlan(database);
  const happenings = fresh ? happeningsOf(Date.now()) : happeningsOf(begin + 14 * 24 * hour);
  return { happenings, since: new Map([...seen].map(([name, times]) => [name, times.last + 60_000])) };
}

/** Splits the events of an hour into deliveries: one per minute in the last two hours, which screens show by the minute, else one. */
function inDeliveries(events: readonly DemoEvent[], now: number): readonly (readonly DemoEvent[])[] {
  const deliveries = new Map<number, DemoEvent[]>();
  for (const event of events) {
    // Lines without a timestamp get the time of their delivery.
    const start = event.time > now - 2 * hour ? Math.floor(event.time / minute) : 0;
    const delivery = deliveries.get(start);
    if (delivery) delivery.push(event);
    else deliveries.set(start, [event]);
  }
  return [...deliveries.values()];
}

/** Sends what happened up to `now`, an hour of a source at a time, several at once. */
async function sendHistory(
  happenings: Happenings,
  since: ReadonlyMap<string, number>,
  now: number,
  onProgress: (share: number) => void,
): Promise<number> {
  const jobs: { readonly source: DemoSource; readonly start: number }[] = [];
  const begin = Math.max(happenings.begin, Math.floor((now - past) / hour) * hour);
  for (let start = begin; start < now; start += hour) for (const source of demoSources) jobs.push({ source, start });
  let next = 0;
  let sent = 0;
  const lane = async (): Promise<void> => {
    for (let job = jobs[next++]; job; job = jobs[next++]) {
      const { source, start } = job;
      const from = since.get(source.name) ?? 0;
      if (start + hour <= from) continue;
      const events = eventsOfHour(source, start, happenings, seed).filter(({ time }) => time >= from && time < now);
      for (const delivery of inDeliveries(events, now))
        await sendOverHttp(intake, source, tokenOf(source), delivery, true);
      sent += events.length;
      if (next % 40 === 0) onProgress(next / jobs.length);
      if (next % 400 === 0)
        console.log(
          `  ${Math.round((100 * next) / jobs.length)} % of the history is loaded (${sent.toLocaleString('en')} events)`,
        );
    }
  };
  await Promise.all(Array.from({ length: 12 }, lane));
  return sent;
}

/** Sends events as they happen, until the process is ended. */
function sendLive(happenings: Happenings, from: number): void {
  const syslog = new SyslogSender(intake.syslogPort);
  const hours = new Map<DemoSource, { start: number; events: ReturnType<typeof eventsOfHour> }>();
  let before = from;
  const timer = setInterval(() => {
    const now = Date.now();
    for (const source of demoSources) {
      const start = Math.floor(before / hour) * hour;
      for (let current = start; current < now; current += hour) {
        let known = hours.get(source);
        if (known?.start !== current)
          hours.set(source, (known = { start: current, events: eventsOfHour(source, current, happenings, seed) }));
        const due = known.events.filter(({ time }) => time >= before && time < now);
        if (source.transport.startsWith('syslog')) syslog.send(source, due);
        else
          void sendOverHttp(intake, source, tokenOf(source), due, false).catch((error: Error) =>
            console.error(error.message),
          );
      }
    }
    writeHarbourLog(demoFolder, now);
    if (Math.floor(now / 60_000) !== Math.floor(before / 60_000)) writeWeather(objectsFolder, now);
    before = now;
  }, 1000);
  process.on('SIGTERM', () => {
    clearInterval(timer);
    syslog.close();
    process.exit(0);
  });
}

/** Loads the past, then sends events as they happen. */
async function run(database: Database): Promise<void> {
  const started = Date.now();
  writeWeather(objectsFolder, started);
  if (!isGuest) serveObjects(objectsFolder, settings.OBJECTS_PORT);
  const { happenings, since } = await prepare(database);
  if (since.size === 0) console.log('Loading two weeks of the Skerry Line …');
  const now = Date.now();
  const sent = await sendHistory(happenings, since, now, (share) => void note(database, { share }).catch(() => {}));
  if (sent > 0)
    console.log(`${sent.toLocaleString('en')} events were loaded in ${Math.round((Date.now() - started) / 1000)} s.`);
  await note(database, { state: 'loaded', share: 1 });
  sendLive(happenings, now);
}

// An engine that comes back after a crash starts senders of its own.
if (isGuest) process.once('disconnect', () => process.exit(0));
const database = openDatabase(settings.DATABASE_URL, 2);
// Two senders would send every event twice.
const isSentAlready = !isGuest && (await readDemo(database.db)) !== undefined;
if (isSentAlready) console.log('This installation has loaded the demo data itself: its engine goes on sending it.');
else
  await run(database).catch((error: Error) => {
    // The engine shows it to people.
    process.send?.({ problem: error.message });
    throw error;
  });
await database.close();
process.send?.('ready');
if (isSentAlready) setInterval(() => {}, hour);
