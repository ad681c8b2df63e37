import { toast } from 'sonner';
import { call, refreshAll } from '../../data/client.ts';

/** Turns money on or off for the whole product. */
export async function showMoney(shown: boolean): Promise<void> {
  try {
    await call('showPrices', { shown });
    // Money is beside most volumes.
    await refreshAll();
    toast(shown ? 'Money is shown.' : 'Money is hidden on all screens.');
  } catch (cause) {
    toast.error(cause instanceof Error ? cause.message : 'The setting could not be changed.');
  }
}
