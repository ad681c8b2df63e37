import { metricCsv } from '#core/views/metric-csv.ts';
import { handle } from '../../../_server/handle.ts';

export const dynamic = 'force-dynamic';

export const GET = handle('metric', metricCsv);
