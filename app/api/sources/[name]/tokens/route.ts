import { addToken, endToken, listSources } from '#store/sources.ts';
import { atEdge, jsonOf } from '../../../../_server/edge.ts';
import { callEngine, problem } from '../../../../_server/engine.ts';
import { rotation, tokenId } from '../../../../_server/requests/sources.ts';
import { store } from '../../../../_server/store.ts';
import { newToken } from '../../../../_server/token.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly name: string }>;
}

/** Adds a token, or rotates one: the new one is shown this once, the old one ends when the overlap is over. */
export async function POST(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The token could not be made', async () => {
    const { name } = await params;
    const database = store();
    if (!(await listSources(database)).some((source) => source.name === name))
      return problem(404, 'There is no such source', `No source is called ${name}.`);
    const { replaces, overlap } = rotation.validateSync(await jsonOf(request));
    const { token, hash } = newToken();
    const now = Date.now();
    await addToken(database, { hash, source: name, hint: token.slice(-4), backfill: false, createdAt: now });
    if (replaces !== undefined) await endToken(database, { source: name, id: replaces }, now + overlap);
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({ token }, { status: 201 });
  });
}

/** Revokes a token at once. */
export async function DELETE(request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The token could not be revoked', async () => {
    const { name } = await params;
    const { id } = tokenId.validateSync(await jsonOf(request));
    await endToken(store(), { source: name, id }, Date.now());
    await callEngine('/senders/refresh', { body: {} });
    return Response.json({});
  });
}
