import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('emitterVolumes');
export const PUT = handle('planEmitter');
