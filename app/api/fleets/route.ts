import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('fleets');
export const PUT = handle('saveFleet');
export const DELETE = handle('removeFleet');
