import { handle } from '../../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('source');
export const PUT = handle('changeSource');
export const DELETE = handle('removeSource');
