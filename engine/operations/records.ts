import { number, object, ValidationError } from 'yup';
import type { AuditAnswer, VolumeAnswer } from '#core/answers/search.ts';
import { parseTime } from '#core/conditions/times.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import { listAudit } from '#store/audit.ts';
import { type LedgerKey, ledgerKeys, sumLedger } from '#store/ledger.ts';
import { question } from './handler.ts';

export const volume = question(operations.volume, async (asked, { database }): Promise<VolumeAnswer> => {
  const now = Date.now();
  const window = object({ from: number().required(), to: number().required() }).validateSync({
    from: parseTime(asked.from, now),
    to: parseTime(asked.to, now),
  });
  const by = asked.by.split(',').filter((key): key is LedgerKey => (ledgerKeys as readonly string[]).includes(key));
  const every = asked.every === '' ? 0 : parseDuration(asked.every);
  if (every === undefined || every < 0)
    throw new ValidationError(`${asked.every} is no duration, such as 5m`, asked.every, 'every');
  return { ...window, sums: await sumLedger(database, window, by, every) };
});

export const audit = question(
  operations.audit,
  async ({ most }, { database }): Promise<AuditAnswer> => ({
    changes: await listAudit(database, most),
  }),
);
