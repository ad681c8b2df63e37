import { atEdge } from '../../../_server/edge.ts';
import { callEngine } from '../../../_server/engine.ts';
import { byNumber } from '../../../_server/requests/plan.ts';

export const dynamic = 'force-dynamic';

interface Context {
  readonly params: Promise<{ readonly id: string }>;
}

/** Tries to store a delivery that was set aside; where it fails again it stays. */
export async function POST(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The delivery could not be tried again', async () => {
    return await callEngine('/quarantine/retry', { body: byNumber.validateSync(await params) });
  });
}

/** Lets a delivery go that was set aside. */
export async function DELETE(_request: Request, { params }: Context): Promise<Response> {
  return await atEdge('The delivery could not be let go', async () => {
    return await callEngine('/quarantine/remove', { body: byNumber.validateSync(await params) });
  });
}
