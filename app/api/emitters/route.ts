import { boolean, number, object, string } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { planEmitter, sumEmitterVolume } from '#store/emitters.ts';
import { atEdge } from '../../_server/edge.ts';
import { callEngine, problem } from '../../_server/engine.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** What sources (empty name) and emitters sent in a window, by the hour, the largest first. */
export async function GET(request: Request): Promise<Response> {
  const { searchParams } = new URL(request.url);
  const now = Date.now();
  const from = parseTime(searchParams.get('from') ?? '-1d', now);
  const to = parseTime(searchParams.get('to') ?? 'now', now);
  if (from === undefined || to === undefined || from >= to)
    return problem(400, 'This is no window', 'Write from=-1d and to=now, or times such as 2026-11-24T08:15.');
  const hour = 3_600_000;
  const window = { from: Math.floor(from / hour) * hour, to };
  const rows = await sumEmitterVolume(store(), window, searchParams.get('source') ?? undefined);
  const seconds = (window.to - window.from) / 1000;
  return Response.json({
    ...window,
    rows: rows.map((row) => ({ ...row, eventsPerSecond: row.events / seconds, bytesPerSecond: row.bytes / seconds })),
  });
}

const body = object({
  source: string().required(),
  emitter: string().required(),
  retired: boolean().default(false),
  expectedBack: number().nullable().default(null),
});

/** Says of an emitter that it will not come back, or when it is expected. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The emitter could not be changed', async () => {
    const { source, emitter, ...plans } = body.validateSync(await request.json());
    await planEmitter(store(), { source, name: emitter }, plans);
    await callEngine('/emitters/refresh', { body: {} });
    return Response.json({});
  });
}
