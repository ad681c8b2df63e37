import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('savedSearches');
export const PUT = handle('saveSearch');
export const DELETE = handle('removeSearch');
