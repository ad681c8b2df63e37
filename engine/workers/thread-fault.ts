import { StoreFault, type StoreFaultKind } from '#store/fault.ts';

/** A fault of the store as it goes from a thread to another: errors lose what they are on that way. */
export interface ThreadFault {
  readonly storeFault: { readonly kind: StoreFaultKind; readonly code: string; readonly table: string };
}

/** What a thread has done, or the fault of the store that kept it from that; throws all other errors. */
export async function withFault<Done>(work: () => Promise<Done>): Promise<Done | ThreadFault> {
  try {
    return await work();
  } catch (error) {
    if (!(error instanceof StoreFault)) throw error;
    const { kind, code, table } = error;
    return { storeFault: { kind, code, table } };
  }
}

/** What a thread has done; throws the fault of the store that kept it from that. */
export async function withoutFault<Done extends object | string | boolean>(
  answer: Promise<Done | ThreadFault>,
): Promise<Done> {
  const done = await answer;
  if (typeof done !== 'object' || !('storeFault' in done)) return done as Done;
  const { kind, code, table } = done.storeFault;
  throw new StoreFault(kind, code, table);
}
