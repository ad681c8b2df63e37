import type { FollowedView } from '#core/health/views.ts';
import { amountOf, shareOf } from '#core/views/volumes.ts';
import { listFleets } from '#store/fleets.ts';
import { firstAndLastSeen, type LedgerSum, sumLedger } from '#store/ledger.ts';
import { addToken, listSources, saveSource } from '#store/sources.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine, problem } from '../../_server/engine.ts';
import { readHealth } from '../../_server/health.ts';
import { newSource } from '../../_server/requests/sources.ts';
import { sourceRefused } from '../../_server/source-refused.ts';
import { store } from '../../_server/store.ts';
import { newToken } from '../../_server/token.ts';

export const dynamic = 'force-dynamic';

const hour = 3_600_000;
const day = 86_400_000;

/** All sources with what they send, how they are, and who among their emitters needs someone. */
export async function GET(): Promise<Response> {
  return await atEdge('The sources could not be read', async () => {
    const now = Date.now();
    const database = store();
    const [sources, hours, weekly, seen, health, fleets] = await Promise.all([
      listSources(database),
      sumLedger(database, { from: now - day, to: now + hour }, ['source', 'parsed'], hour),
      sumLedger(database, { from: now - 8 * day, to: now - day }, ['source'], hour),
      firstAndLastSeen(database),
      readHealth(),
      listFleets(database),
    ]);
    const followed = new Map<string, FollowedView[]>();
    for (const view of health?.followed ?? []) {
      const held = followed.get(view.source);
      if (held) held.push(view);
      else followed.set(view.source, [view]);
    }
    const first = Math.floor((now - day) / hour) * hour + hour;
    return Response.json({
      at: now,
      fleets,
      groups: health?.groups ?? [],
      leftOut: health?.leftOut ?? 0,
      sources: sources.map((source) => {
        const own = hours.filter((sum) => sum.source === source.name);
        const total = amountOf(own);
        const views = followed.get(source.name) ?? [];
        const whole = views.find(({ emitter }) => emitter === '');
        const emitters = views.filter(({ emitter }) => emitter !== '');
        const count = (state: string): number =>
          emitters.filter(({ health: { state: each } }) => each === state).length;
        return {
          ...source,
          eventsPerSecond: whole?.eventsPerSecond ?? 0,
          bytesPerSecond: whole?.bytesPerSecond ?? 0,
          typicalPerSecond: typicalAt(
            weekly.filter((sum) => sum.source === source.name),
            now,
          ),
          day: total,
          parsedShare: shareOf(amountOf(own.filter((sum) => sum.parsed)).events, total.events),
          lastSeen: whole?.lastSeen ?? seen.get(source.name)?.last ?? null,
          firstSeen: whole?.firstSeen ?? seen.get(source.name)?.first ?? null,
          health: whole?.health ?? null,
          emitters: { all: emitters.length, silent: count('silent'), late: count('late'), fresh: count('new') },
          spark: Array.from(
            { length: 23 },
            (_, i) => amountOf(own.filter((sum) => sum.start === first + i * hour)).events,
          ),
        };
      }),
    });
  });
}

/** Events a second that are typical for this hour of the week: of the same hour a week ago, or of the same hours of the week's other days. */
function typicalAt(sums: readonly LedgerSum[], now: number): number | null {
  const start = Math.floor(now / hour) * hour;
  const lastWeek = sums.filter((sum) => sum.start === start - 7 * day);
  const sameHour = lastWeek.length > 0 ? lastWeek : sums.filter((sum) => (start - sum.start) % day === 0);
  return sameHour.length > 0 ? amountOf(sameHour).events / sameHour.length / 3600 : null;
}

/** Makes a source with its first token, which is shown this once. */
export async function POST(request: Request): Promise<Response> {
  return await atEdge('The source is not valid', async () => {
    const { labels, ...source } = newSource.validateSync(await jsonOf(request), { abortEarly: false });
    const database = store();
    if ((await listSources(database)).some((known) => known.name === source.name)) {
      return problem(409, 'The name is taken', `There is a source ${source.name} already.`);
    }
    const refused = await sourceRefused(source.settings);
    if (refused) return refused;
    const now = Date.now();
    await saveSource(database, { ...source, labels: labels as Readonly<Record<string, string>>, createdAt: now });
    const { token, hash } = newToken();
    await addToken(database, { hash, source: source.name, hint: token.slice(-4), backfill: false, createdAt: now });
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({ name: source.name, token }, { status: 201 });
  });
}
