import { amountOf } from '#core/views/volumes.ts';
import { listDrifts } from '#store/drifts.ts';
import { sumLedger } from '#store/ledger.ts';
import { latestObjects, listIdentity, listPositions } from '#store/positions.ts';
import { listSources, listTokens, saveSource } from '#store/sources.ts';
import { atEdge, jsonOf } from '../../../_server/edge.ts';
import { callEngine, problem } from '../../../_server/engine.ts';
import { readHealth } from '../../../_server/health.ts';
import { sourceChange } from '../../../_server/requests/sources.ts';
import { sourceRefused } from '../../../_server/source-refused.ts';
import { store } from '../../../_server/store.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** One source: its settings and tokens, its volume by the hour, its health and that of its emitters, what changed in it. */
export async function GET(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The source could not be read', async () => {
    const { name } = await params;
    const database = store();
    const source = (await listSources(database)).find((candidate) => candidate.name === name);
    if (!source) return problem(404, 'There is no such source', `No source is called ${name}.`);
    const now = Date.now();
    const to = now + 3_600_000;
    const [tokens, hours, whole, health, drifts, positions, objects] = await Promise.all([
      listTokens(database),
      sumLedger(database, { from: now - 7 * 86_400_000, to, source: name }, ['parsed', 'outcome', 'tier'], 3_600_000),
      sumLedger(database, { from: now - 86_400_000, to }, ['outcome'], 0),
      readHealth(name),
      listDrifts(database, now - 7 * 86_400_000, name),
      source.kind === 'files' ? listPositions(database, name) : [],
      source.kind === 'objects' ? latestObjects(database, name) : [],
    ]);
    return Response.json({
      source,
      tokens: tokens
        .filter((token) => token.source === name)
        .map(({ id, hint, createdAt, backfill, expiresAt }) => ({ id, hint, createdAt, backfill, expiresAt })),
      hours,
      keptOfAll: amountOf(whole.filter((sum) => sum.outcome === 'kept')),
      health: health?.followed ?? [],
      groups: health?.groups ?? [],
      drifts,
      positions: positions
        .slice(0, 200)
        .map(({ path, offset, changedAt, note }) => ({ path, offset, changedAt, note })),
      objects: objects
        .filter(({ identity, problem: fault }) => identity !== listIdentity || fault !== '')
        .map(({ identity, name: of, records, done, problem: fault, attempts, retryAt, at }) => ({
          identity,
          name: of,
          records,
          done,
          problem: fault,
          attempts,
          retryAt,
          at,
        })),
      intakePort: Number(process.env.INTAKE_PORT ?? 4318),
      syslogPort: Number(process.env.SYSLOG_PORT ?? 5514),
      syslogTlsPort: Number(process.env.SYSLOG_TLS_PORT ?? 6514),
    });
  });
}

/** Changes what a source is set to; parts that are not given stay as they are. */
export async function PUT(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The source is not valid', async () => {
    const { name } = await params;
    const database = store();
    const source = (await listSources(database)).find((candidate) => candidate.name === name);
    if (!source) return problem(404, 'There is no such source', `No source is called ${name}.`);
    const given: unknown = await jsonOf(request);
    const change = sourceChange.validateSync(given, { abortEarly: false });
    const has = (key: string): boolean => typeof given === 'object' && given !== null && key in given;
    const refused = await sourceRefused(change.settings);
    if (refused) return refused;
    await saveSource(database, {
      ...source,
      ...(has('owner') && { owner: change.owner ?? '' }),
      ...(has('labels') && { labels: change.labels as Readonly<Record<string, string>> }),
      ...(has('accepts') && { accepts: change.accepts ?? '' }),
      ...(has('settings') && { settings: { ...source.settings, ...change.settings } }),
    });
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({ name });
  });
}

/**
 * Removes a source: its tokens, how far it was read and what was learnt of its rhythm go; stored events stay until their
 * tiers let them go.
 */
export async function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The source could not be removed', async () => {
    const { name } = await params;
    return await callEngine('/sources/remove', { body: { source: name } });
  });
}
