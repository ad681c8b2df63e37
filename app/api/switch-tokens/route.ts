import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('switchTokens');
export const POST = handle('addSwitchToken');
export const DELETE = handle('removeSwitchToken');
