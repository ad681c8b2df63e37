import { type EventBatch, failureAttribute, withAttribute } from '../events/batch.ts';
import { gather } from '../events/select.ts';
import { textAt } from '../events/text-table.ts';
import { type Ledger, ledgerStart } from './ledger.ts';

/** Rejects as raw events again: those with the reason, and the others. */
export function splitRejects(
  batch: EventBatch,
  reason: string,
): { readonly meant: EventBatch; readonly left: EventBatch } {
  const text = batch.attributes.get(failureAttribute)?.text;
  const isMeant = new Uint8Array(batch.rows);
  for (let row = 0; row < batch.rows; row++) {
    const code = text?.codes[row] ?? -1;
    isMeant[row] = reason === '' || (text && code >= 0 && textAt(text.table, code) === reason) ? 1 : 0;
  }
  const rowsWith = (value: number): Int32Array =>
    Int32Array.from([...isMeant.keys()].filter((row) => isMeant[row] === value));
  const meant = gather(batch.source, [{ batch, rows: rowsWith(1) }]);
  return {
    meant: asArrived(withAttribute(meant, failureAttribute, undefined)),
    left: gather(batch.source, [{ batch, rows: rowsWith(0) }]),
  };
}

/** A line that brought no fields is not parsed yet. */
function asArrived(batch: EventBatch): EventBatch {
  return batch.attributes.size === 0 ? { ...batch, parsed: new Uint8Array(batch.rows) } : batch;
}

/** The retried events were counted as rejected when they came: that is taken back, so that each is counted once. */
export function takeBack(ledger: Ledger, batch: EventBatch, reason: string, now: number): void {
  const text = batch.attributes.get(failureAttribute)?.text;
  for (let row = 0; row < batch.rows; row++) {
    const code = text?.codes[row] ?? -1;
    const failure = text && code >= 0 ? textAt(text.table, code) : '';
    if (reason !== '' && failure !== reason) continue;
    ledger.add({
      start: ledgerStart(batch.received[row] as number, now),
      source: batch.source,
      outcome: 'rejected',
      tier: '',
      rule: failure.slice(0, Math.max(0, failure.indexOf(': '))),
      parsed: false,
      events: -(batch.weight[row] as number),
      bytes: -(batch.weight[row] as number) * (batch.size[row] as number),
      stored: 0,
    });
  }
}
