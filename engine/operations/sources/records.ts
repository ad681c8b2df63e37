import { number, object, ValidationError } from 'yup';
import type { AuditAnswer, VolumeAnswer } from '#core/answers/search.ts';
import { parseTime } from '#core/conditions/times.ts';
import { parseDuration } from '#core/events/units.ts';
import { operations } from '#core/operations/index.ts';
import { listAudit } from '#store/people/audit.ts';
import { type LedgerKey, ledgerKeys, sumLedger } from '#store/volume/ledger.ts';
import { question } from '../handler.ts';
import { namesIn } from '../names-in.ts';

/** Least length of a slice, in milliseconds: volume is counted by the minute. */
const shortestSlice = 60_000;

function ledgerKey(name: string): LedgerKey {
  const key = ledgerKeys.find((known) => known === name);
  if (key) return key;
  throw new ValidationError(`${name.slice(0, 100)} is no key: ${ledgerKeys.join(', ')}`, name, 'by');
}

export const volume = question(operations.volume, async (asked, { database }): Promise<VolumeAnswer> => {
  const now = Date.now();
  const window = object({ from: number().required(), to: number().required() }).validateSync({
    from: parseTime(asked.from, now),
    to: parseTime(asked.to, now),
  });
  const by = namesIn(asked.by).map(ledgerKey);
  const every = asked.every === '' ? 0 : (parseDuration(asked.every) ?? Number.NaN);
  if (asked.every !== '' && !(every >= shortestSlice))
    throw new ValidationError(`${asked.every} is no duration of at least a minute, such as 5m`, asked.every, 'every');
  return { ...window, sums: await sumLedger(database, window, by, every) };
});

export const audit = question(
  operations.audit,
  async ({ most }, { database }): Promise<AuditAnswer> => ({
    changes: await listAudit(database, most),
  }),
);
