import { createHash, randomBytes } from 'node:crypto';
import type { SourceAnswer, SourceSettings, SourcesAnswer } from '#core/answers/sources.ts';
import { day, hour } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import { amountOf } from '#core/routing/volume-sums.ts';
import { sourceViews } from '#core/views/sources.ts';
import type { Queryable } from '#store/database.ts';
import { listDrifts } from '#store/sources/drifts.ts';
import { listFleets } from '#store/sources/fleets.ts';
import {
  latestObjects,
  listIdentity,
  listPositions,
  tryObjectsAgain as storeTryAgain,
} from '#store/sources/positions.ts';
import {
  endToken as deleteToken,
  findSource,
  listSources,
  listTokens,
  saveSource,
  addToken as storeToken,
} from '#store/sources/sources.ts';
import { firstAndLastSeen, sumLedger } from '#store/volume/ledger.ts';
import { removeSource as takeOut } from '../../sources/remove-source.ts';
import { command, longCommand, question } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { healthAnswer } from './health-answer.ts';
import { knownSource, readingTime } from './known-source.ts';

/** Files of a source that are shown. */
const mostPositions = 200;

export const sources = question(operations.sources, async (_input, services): Promise<SourcesAnswer> => {
  const now = Date.now();
  const { database } = services;
  const [list, hours, weekly, seen, fleets] = await Promise.all([
    listSources(database),
    sumLedger(database, { from: now - day, to: now + hour }, ['source', 'parsed'], hour),
    sumLedger(database, { from: now - 8 * day, to: now - day }, ['source'], hour),
    firstAndLastSeen(database),
    listFleets(database),
  ]);
  const { followed, groups, leftOut } = healthAnswer(services.health, services.directory, now);
  return {
    at: now,
    fleets,
    groups,
    leftOut,
    sources: sourceViews({ sources: list, hours, weekly, seen, followed, now }),
    folders: services.bounds.folders,
  };
});

export const source = question(operations.source, async ({ name }, services): Promise<SourceAnswer> => {
  const { database, config } = services;
  const found = await knownSource(database.db, name);
  const now = Date.now();
  const to = now + hour;
  const [tokens, hours, lastDay, whole, drifts, positions, objects] = await Promise.all([
    listTokens(database),
    sumLedger(database, { from: now - 7 * day, to, source: name }, ['parsed', 'outcome', 'tier'], hour),
    sumLedger(database, { from: now - day, to, source: name }, ['parsed', 'outcome', 'tier'], 0),
    sumLedger(database, { from: now - day, to }, ['outcome'], 0),
    listDrifts(database, now - 7 * day, name),
    found.kind === 'files' ? listPositions(database, name) : [],
    found.kind === 'objects' ? latestObjects(database, name) : [],
  ]);
  const { followed, groups } = healthAnswer(services.health, services.directory, now, name);
  return {
    source: found,
    tokens: tokens
      .filter((token) => token.source === name)
      .map(({ id, hint, createdAt, backfill, expiresAt }) => ({ id, hint, createdAt, backfill, expiresAt })),
    hours,
    day: lastDay,
    keptOfAll: amountOf(whole.filter((sum) => sum.outcome === 'kept')),
    health: followed,
    groups,
    drifts,
    positions: positions
      .slice(0, mostPositions)
      .map(({ path, offset, changedAt, note }) => ({ path, offset, changedAt, note })),
    objects: objects
      .filter(({ identity, problem }) => identity !== listIdentity || problem !== '')
      .map(({ identity, name: object, records, done, problem, attempts, retryAt, at }) => ({
        ...{ identity, name: object, records, done, problem, attempts, retryAt, at },
      })),
    intakePort: config.intakePort,
    syslogPort: config.syslogPort,
    syslogTlsPort: config.syslogTlsPort,
  };
});

/** The installation says which files and hosts sources may have read. */
function checkBounds({ bounds }: OperationServices, settings: SourceSettings | undefined): void {
  const { globs = [], url } = settings ?? {};
  if (globs.length === 0 && !url) return;
  const problem = bounds.problemOf({ globs, url });
  if (problem === undefined) return;
  const path = url ? 'settings.url' : 'settings.globs';
  throw new Refusal(400, 'The source may not read this', problem, { problems: [{ path, message: problem }] });
}

/** Makes a bearer token; only its SHA-256 is kept. */
async function newToken(tx: Queryable, name: string, now: number): Promise<string> {
  const token = `otter_${randomBytes(20).toString('base64url')}`;
  const hash = createHash('sha256').update(token).digest('hex');
  await storeToken(tx, { hash, source: name, hint: token.slice(-4), backfill: false, createdAt: now });
  return token;
}

export const makeSource = command(operations.makeSource, {
  subject: ({ name }) => name,
  carryOut: async ({ labels, ...made }, { tx, services, now }) => {
    if (await findSource(tx, made.name))
      throw new Refusal(409, 'The name is taken', `There is a source ${made.name} already.`, {
        problems: [{ path: 'name', message: 'there is a source of this name already' }],
      });
    checkBounds(services, made.settings);
    await saveSource(tx, { ...made, labels: labels as Readonly<Record<string, string>>, createdAt: now });
    return { name: made.name, token: await newToken(tx, made.name, now) };
  },
});

export const changeSource = command(operations.changeSource, {
  subject: ({ name }) => name,
  carryOut: async ({ name, owner, labels, accepts, settings }, { tx, services }) => {
    const before = await knownSource(tx, name);
    checkBounds(services, settings);
    await saveSource(tx, {
      ...before,
      ...(owner !== undefined && { owner }),
      ...(labels !== undefined && { labels: labels as Readonly<Record<string, string>> }),
      ...(accepts !== undefined && { accepts }),
      ...(settings !== undefined && { settings: { ...before.settings, ...settings } }),
    });
    return { name };
  },
});

export const removeSource = longCommand(operations.removeSource, {
  subject: ({ name }) => name,
  carryOut: async ({ name }, services, _asking, record) => {
    await knownSource(services.database.db, name);
    await takeOut(services, name, record);
    return {};
  },
});

export const heard = question(operations.heard, async ({ name }, services) => {
  const now = Date.now();
  return { hours: await services.health.heard(name, now - 7 * day, now) };
});

export const addToken = command(operations.addToken, {
  subject: ({ name }) => name,
  carryOut: async ({ name, replaces, overlap }, { tx, now }) => {
    await knownSource(tx, name);
    const token = await newToken(tx, name, now);
    if (replaces !== undefined && !(await deleteToken(tx, { source: name, id: replaces }, now + overlap)))
      throw new Refusal(404, '', 'The source has no such token in force that could be replaced.');
    return { token };
  },
});

export const endToken = command(operations.endToken, {
  subject: ({ name }) => name,
  carryOut: async ({ name, id }, { tx, now }) => {
    if (!(await deleteToken(tx, { source: name, id }, now)))
      throw new Refusal(404, '', 'The source has no such token in force.');
    return {};
  },
});

export const rewind = longCommand(operations.rewind, {
  subject: ({ name }) => name,
  carryOut: async ({ name, from }, services) => {
    const time = readingTime(from);
    const known = await knownSource(services.database.db, name);
    if (known.kind !== 'files' && known.kind !== 'objects')
      throw new Refusal(409, '', 'Only followed files and picked-up objects can be read again.');
    return await services.rewinds.begin(known, time);
  },
});

export const tryObjectsAgain = command(operations.tryObjectsAgain, {
  subject: ({ name }) => name,
  carryOut: async ({ name, identity }, { tx }) => {
    await knownSource(tx, name);
    if (!(await storeTryAgain(tx, name, identity)) && identity !== undefined)
      throw new Refusal(404, '', 'The source has no such object that could not be read.');
    return {};
  },
});
