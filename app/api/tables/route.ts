import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('tables');
export const PUT = handle('saveTable');
export const DELETE = handle('removeTable');
