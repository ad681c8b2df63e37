import { parseTable } from '#core/tables/table.ts';
import { listTables, removeTable, saveTable } from '#store/lookup-tables.ts';
import { atEdge, jsonOf } from '../../_server/edge.ts';
import { callEngine, problem } from '../../_server/engine.ts';
import { table } from '../../_server/requests/plan.ts';
import { byName } from '../../_server/requests/sources.ts';
import { store } from '../../_server/store.ts';

export const dynamic = 'force-dynamic';

/** All tables that steps can look values up in. */
export async function GET(): Promise<Response> {
  return await atEdge('The tables could not be read', async () => {
    return Response.json({ tables: await listTables(store()) });
  });
}

/** Adds a table, or puts it in the place of the one of that name; the engine takes it up within seconds. */
export async function PUT(request: Request): Promise<Response> {
  return await atEdge('The table is not valid', async () => {
    const { name, csv } = table.validateSync(await jsonOf(request));
    const parsed = parseTable(csv);
    if (!parsed.ok) return problem(400, 'The table is not valid', parsed.message);
    await saveTable(store(), { name, csv, changedAt: Date.now() });
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({ columns: parsed.table.columns, rows: parsed.table.rows });
  });
}

/** Removes a table; steps that look values up in it fail from then on. */
export async function DELETE(request: Request): Promise<Response> {
  return await atEdge('The table could not be removed', async () => {
    await removeTable(store(), byName.validateSync(await jsonOf(request)).name);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
