import { handle } from '../../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('draft');
export const PUT = handle('saveDraft');
export const DELETE = handle('discardDraft');
