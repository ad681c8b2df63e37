import type { LedgerEntry } from '#core/routing/ledger.ts';
import { addToLedger } from '#store/volume/ledger.ts';
import type { EffectWriter } from './writer.ts';

/** The volume ledger. */
export const ledger = (): EffectWriter<readonly LedgerEntry[]> => ({
  write: async (tx, entries) => {
    await addToLedger(tx, entries);
    return undefined;
  },
});
