import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import type { IntakeQueue } from './queue.ts';

/** A delivery that is handed in, and what it takes. */
export interface HandedIn {
  readonly delivery: Delivery;
  /** Bytes that it takes while it waits, and once it is unpacked (absent: the same). */
  readonly bytes: number;
  readonly unpacked?: number;
  /** Whether it waits on while the store is away; else whoever hands it in is answered so. */
  readonly patient: boolean;
  /** Whether it may wait a little longer for others, to be committed together with them. */
  readonly lingers?: boolean;
}

/** What became of it: there was no room (`full`), or the store was away and it did not wait (`away`); nothing was kept then. */
export type HandInAnswer = DeliveryAnswer | { readonly kind: 'full' } | { readonly kind: 'away' };

/** Hands a delivery in and waits until it is stored or refused. */
export function handIn(queue: IntakeQueue, { patient, ...waiting }: HandedIn): Promise<HandInAnswer> {
  return new Promise((resolve) => {
    const away = !patient && { storeAway: () => resolve({ kind: 'away' }) };
    if (!queue.offer({ ...waiting, answer: resolve, ...away })) resolve({ kind: 'full' });
  });
}

/** Hands a delivery in as soon as there is room for it, and waits however long it takes. */
export async function handInPatiently(queue: IntakeQueue, handed: Omit<HandedIn, 'patient'>): Promise<DeliveryAnswer> {
  for (;;) {
    await queue.room(handed.delivery.source);
    const answer = await handIn(queue, { ...handed, patient: true });
    if (answer.kind !== 'full' && answer.kind !== 'away') return answer;
  }
}
