import { talkersCsv } from '#core/views/talkers-csv.ts';
import { handle } from '../../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('ranking', talkersCsv);
