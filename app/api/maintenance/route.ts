import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('maintenance');
export const POST = handle('announceMaintenance');
export const DELETE = handle('removeMaintenance');
