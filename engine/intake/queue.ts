import type { Delivery, DeliveryAnswer } from './delivery.ts';

/** A delivery that waits, and who waits for its answer. */
export interface Waiting {
  readonly delivery: Delivery;
  readonly bytes: number;
  readonly answer: (answer: DeliveryAnswer) => void;
  /** Called when the store is away; returns true when the delivery may wait on. */
  readonly storeAway: () => boolean;
}

/** Most bytes that wait at a time. */
export const maxQueuedBytes = 64_000_000;

/** Deliveries on their way to the workers, first come first served. Bounded: `offer` refuses what does not fit. */
export class IntakeQueue {
  queuedBytes = 0;
  private readonly waiting: Waiting[] = [];
  private readonly takers: (() => void)[] = [];
  private readonly drained: (() => void)[] = [];

  /** Whether there is room. A single delivery always fits an empty queue. */
  get full(): boolean {
    return this.queuedBytes >= maxQueuedBytes;
  }

  get length(): number {
    return this.waiting.length;
  }

  /** Adds a delivery at the end; false when the queue is full. */
  offer(waiting: Waiting): boolean {
    if (this.full) return false;
    this.push(waiting);
    return true;
  }

  /** Puts deliveries back at the front, in their order; they were accepted before, so there is always room. */
  putBack(returned: readonly Waiting[]): void {
    this.waiting.unshift(...returned);
    for (const { bytes } of returned) this.queuedBytes += bytes;
    this.wake();
  }

  /**
   * Takes the next deliveries: waits for the first, then up to `linger` milliseconds for more to join it, and takes at
   * most about `bytes` bytes. Returns none once `closed` resolves.
   */
  async take(bytes: number, linger: number, closed: Promise<void>): Promise<readonly Waiting[]> {
    let open = true;
    void closed.then(() => (open = false));
    while (open && this.waiting.length === 0) {
      await Promise.race([new Promise<void>((resolve) => this.takers.push(resolve)), closed]);
    }
    if (open && this.queuedBytes < bytes) await new Promise((resolve) => setTimeout(resolve, linger));
    const taken: Waiting[] = [];
    let sum = 0;
    for (let next = this.waiting[0]; next && (sum === 0 || sum + next.bytes <= bytes); next = this.waiting[0]) {
      taken.push(next);
      this.waiting.shift();
      sum += next.bytes;
    }
    this.queuedBytes -= sum;
    if (!this.full) for (const resolve of this.drained.splice(0)) resolve();
    if (this.waiting.length > 0) this.wake();
    return taken;
  }

  /** Resolves when there is room again. */
  async room(): Promise<void> {
    while (this.full) await new Promise<void>((resolve) => this.drained.push(resolve));
  }

  private push(waiting: Waiting): void {
    this.waiting.push(waiting);
    this.queuedBytes += waiting.bytes;
    this.wake();
  }

  private wake(): void {
    this.takers.shift()?.();
  }
}
