import { parseTime } from '#core/conditions/times.ts';
import { planEmitter, sumEmitterVolume } from '#store/emitters.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine, problem } from '../../_server/engine.ts';
import { emittersQuery } from '../../_server/requests/search.ts';
import { emitterPlans } from '../../_server/requests/sources.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** What sources (empty name) and emitters sent in a window, by the hour, the largest first. */
export async function GET(request: Request): Promise<Response> {
  return await atEdge('The emitters could not be read', async () => {
    const { searchParams } = new URL(request.url);
    const now = Date.now();
    const query = emittersQuery.validateSync(Object.fromEntries(searchParams));
    const from = parseTime(query.from, now);
    const to = parseTime(query.to, now);
    if (from === undefined || to === undefined || from >= to)
      return problem(400, 'This is no window', 'Write from=-1d and to=now, or times such as 2026-11-24T08:15.');
    const hour = 3_600_000;
    const window = { from: Math.floor(from / hour) * hour, to };
    const rows = await sumEmitterVolume(store(), window, query.source);
    const seconds = (window.to - window.from) / 1000;
    return Response.json({
      ...window,
      rows: rows.map((row) => ({ ...row, eventsPerSecond: row.events / seconds, bytesPerSecond: row.bytes / seconds })),
    });
  });
}

/** Says of an emitter that it will not come back, or when it is expected. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The emitter could not be changed', async () => {
    const { source, emitter, ...plans } = emitterPlans.validateSync(await jsonOf(request));
    await planEmitter(store(), { source, name: emitter }, plans);
    await callEngine('/emitters/refresh', { body: {} });
    return Response.json({});
  });
}
