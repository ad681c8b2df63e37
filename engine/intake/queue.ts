import type { Delivery, DeliveryAnswer } from './delivery.ts';
import { inSharedMemory } from './shared-bytes.ts';

/** A delivery that waits, and who waits for its answer. */
export interface Waiting {
  readonly delivery: Delivery;
  /** Bytes that it takes while it waits. */
  readonly bytes: number;
  /** Bytes that it has once it is unpacked; absent: as many as it takes. */
  readonly unpacked?: number;
  readonly answer: (answer: DeliveryAnswer) => void;
  /** Called when the store is away and whoever sent it is to send it again; absent: it waits on. */
  readonly storeAway?: () => void;
  /** Whose turn it is with this delivery; absent: its source's. */
  readonly sender?: string;
  /** How often it was to be committed and another transaction was in the way. */
  collisions?: number;
}

/** Most bytes that wait at a time, and most that one sender may have waiting of them. */
export const maxQueuedBytes = 64_000_000;
export const senderShare = maxQueuedBytes / 2;

/** All of syslog is one sender: who a message is from is told only when it has been taken in. */
export const syslogSender = '(syslog)';

/** From so many bytes on, unpacked, a delivery is processed alone, and one such at a time: so far unpacking is bounded. */
const heavyFrom = 8_000_000;
/** Bytes that a sender gets into a group before it is another sender's turn. */
const turnBytes = 1_000_000;

/** Deliveries to be processed together. `done` is to be called once they are. */
export interface Group {
  readonly deliveries: readonly Waiting[];
  readonly done: () => void;
}

interface Sender {
  readonly name: string;
  waiting: Waiting[];
  bytes: number;
}

/**
 * Deliveries on their way to the workers. Senders take turns, so that none holds up another; what one sends keeps its
 * order. Bounded: `offer` refuses what does not fit.
 */
export class IntakeQueue {
  queuedBytes = 0;
  /** In the order of their turns; only senders of whom something waits. */
  private readonly senders = new Map<string, Sender>();
  private readonly takers: (() => void)[] = [];
  private readonly drained: (() => void)[] = [];
  private isHeavyUnderWay = false;
  private closed = false;
  private isAbandoned = false;
  /** What was given up. */
  readonly abandoned: Waiting[] = [];

  /** Whether there is no room, for a sender when given. A single delivery of a sender always fits a queue that is not full. */
  full(sender?: string): boolean {
    if (this.queuedBytes >= maxQueuedBytes) return true;
    return sender !== undefined && (this.senders.get(sender)?.bytes ?? 0) >= senderShare;
  }

  get isEmpty(): boolean {
    return this.senders.size === 0;
  }

  /** Adds a delivery behind those of its sender, its bytes in shared memory; false when there is no room for it. */
  offer(waiting: Waiting): boolean {
    const name = senderOf(waiting);
    if (this.full(name)) return false;
    const delivery = { ...waiting.delivery, chunks: inSharedMemory(waiting.delivery.chunks) };
    this.senderNamed(name).waiting.push({ ...waiting, delivery });
    this.count(name, waiting.bytes);
    this.wake();
    return true;
  }

  /** Puts deliveries back before those of their senders, in their order; they were accepted before, so there is always room. */
  putBack(returned: readonly Waiting[]): void {
    if (this.isAbandoned) {
      this.abandoned.push(...returned);
      return;
    }
    for (const waiting of [...returned].reverse()) {
      const name = senderOf(waiting);
      this.senderNamed(name).waiting.unshift(waiting);
      this.count(name, waiting.bytes);
    }
    this.wake();
  }

  /**
   * Takes the next deliveries: waits for the first, then up to `linger` milliseconds for more to join it, and takes at
   * most about `bytes` bytes, unpacked. Undefined once the queue is closed and empty.
   */
  async take(bytes: number, linger: number): Promise<Group | undefined> {
    for (;;) {
      while (!this.closed && this.isEmpty) await this.change();
      if (this.isEmpty) return undefined;
      if (!this.closed && this.queuedBytes < bytes) await new Promise((resolve) => setTimeout(resolve, linger));
      const group = this.next(bytes);
      if (group) return group;
      // All that waits is heavy, and enough of that is being processed.
      if (!this.isEmpty) await this.change();
    }
  }

  /** Has those who wait for deliveries go on without any, once the queue is empty. */
  close(): void {
    this.closed = true;
    this.wake();
  }

  /** Gives up everything that waits, and what is put back from now on. */
  abandon(): void {
    this.closed = true;
    this.isAbandoned = true;
    this.abandoned.push(...[...this.senders.values()].flatMap(({ waiting }) => waiting));
    this.senders.clear();
    this.queuedBytes = 0;
    this.wake();
  }

  /** Resolves when there is room again, for a sender when given. */
  async room(sender?: string): Promise<void> {
    while (this.full(sender)) await new Promise<void>((resolve) => this.drained.push(resolve));
  }

  private next(bytes: number): Group | undefined {
    const deliveries: Waiting[] = [];
    const passedOver = new Set<string>();
    let room = bytes;
    let holdsHeavy = false;
    while (room > 0 && !holdsHeavy) {
      const sender = [...this.senders.values()].find(({ name }) => !passedOver.has(name));
      if (!sender) break;
      const turn = this.turnOf(sender, room, deliveries.length === 0);
      if (turn.length === 0) passedOver.add(sender.name);
      deliveries.push(...turn);
      room -= turn.reduce((sum, waiting) => sum + costOf(waiting), 0);
      holdsHeavy = turn.some(isHeavy);
      this.endTurn(sender);
    }
    if (deliveries.length === 0) return undefined;
    for (const resolve of this.drained.splice(0)) resolve();
    if (!this.isEmpty || this.closed) this.wake();
    if (holdsHeavy) this.isHeavyUnderWay = true;
    return { deliveries, done: () => holdsHeavy && this.heavyDone() };
  }

  /** What a sender gets into a group at a time, of the bytes that there is room for; the first of a group always fits. */
  private turnOf(sender: Sender, room: number, isFirst: boolean): readonly Waiting[] {
    const turn: Waiting[] = [];
    let bytes = 0;
    for (let next = sender.waiting[0]; next && bytes < turnBytes; next = sender.waiting[0]) {
      const begins = isFirst && turn.length === 0;
      // A heavy delivery comes alone, while others may go on beside it.
      if (isHeavy(next) ? !begins || this.isHeavyUnderWay : !begins && bytes + costOf(next) > room) break;
      sender.waiting.shift();
      this.count(sender.name, -next.bytes);
      turn.push(next);
      bytes += costOf(next);
      if (isHeavy(next)) break;
    }
    return turn;
  }

  private heavyDone(): void {
    this.isHeavyUnderWay = false;
    this.wake();
  }

  /** The sender goes to the end of the row; one of whom nothing waits leaves it. */
  private endTurn(sender: Sender): void {
    this.senders.delete(sender.name);
    if (sender.waiting.length > 0) this.senders.set(sender.name, sender);
  }

  private senderNamed(name: string): Sender {
    let sender = this.senders.get(name);
    if (!sender) this.senders.set(name, (sender = { name, waiting: [], bytes: 0 }));
    return sender;
  }

  private count(name: string, bytes: number): void {
    this.queuedBytes += bytes;
    this.senderNamed(name).bytes += bytes;
  }

  private change(): Promise<void> {
    return new Promise((resolve) => this.takers.push(resolve));
  }

  private wake(): void {
    for (const resolve of this.takers.splice(0, this.closed ? this.takers.length : 1)) resolve();
  }
}

function senderOf({ sender, delivery }: Waiting): string {
  return sender ?? delivery.source;
}

/** Bytes of a delivery once it is unpacked; none counts for nothing. */
function costOf({ bytes, unpacked }: Waiting): number {
  return Math.max(1, unpacked ?? bytes);
}

function isHeavy(waiting: Waiting): boolean {
  return costOf(waiting) >= heavyFrom;
}
