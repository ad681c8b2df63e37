import { costsCsv } from '#core/views/costs-csv.ts';
import { handle } from '../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('costs', (costs, { by = 'source' }) => costsCsv(costs, String(by).split(',')));
