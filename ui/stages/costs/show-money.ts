import { toast } from 'sonner';
import { mutate } from 'swr';
import { callApi } from '../../data/use-api.ts';

/** Has everything that shows money asked for again: it stands beside most volumes. */
export async function refreshMoney(): Promise<void> {
  await mutate((key) => typeof key === 'string' && key.startsWith('/api/'));
}

/** Turns money on or off for the whole product. */
export async function showMoney(shown: boolean): Promise<void> {
  try {
    await callApi('/api/prices/shown', { method: 'PUT', body: JSON.stringify({ shown }) });
    await refreshMoney();
    toast(shown ? 'Money is shown.' : 'Money is hidden on all screens.');
  } catch (cause) {
    toast.error(cause instanceof Error ? cause.message : 'The setting could not be changed.');
  }
}
