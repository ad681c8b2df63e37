import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('demo');
export const POST = handle('loadDemo');
export const DELETE = handle('removeDemo');
