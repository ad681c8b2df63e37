import { setTimeout as pause } from 'node:timers/promises';
import type { Delivery, DeliveryAnswer } from '../deliveries/delivery.ts';
import { Efforts } from './efforts.ts';
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
  /** Whether it may wait a little longer, to be committed together with others: nobody waits for its answer. */
  readonly lingers?: boolean;
  /** How often it was to be committed and another transaction was in the way. */
  collisions?: number;
}

/** Most bytes that wait at a time, and most that one sender may have waiting of them. */
export const maxQueuedBytes = 64_000_000;
export const senderShare = maxQueuedBytes / 2;

/** Fewer bytes than this may linger. */
export const fewBytes = 65_536;

/** All of syslog is one sender: who a message is from is known only when it has been taken in. */
export const syslogSender = '(syslog)';

/** From so many bytes on, unpacked, or so many milliseconds that it is likely to take, a delivery is processed alone, one such at a time. */
const heavyFrom = 8_000_000;
const heavyTime = 400;
/** Milliseconds that a group is likely to take at most, unless its first delivery takes longer. */
const groupTime = 300;
/** Bytes that a sender gets into a group before it is another sender's turn. */
const turnBytes = 1_000_000;

interface Sender {
  readonly name: string;
  waiting: Waiting[];
  bytes: number;
}

/** Who waits for deliveries: for groups of them, or for one that takes long. */
type Takers = 'groups' | 'heavy';

/** How long the first delivery of a group waits for others, in milliseconds: at least, and where it lingers as all others do. */
export interface Linger {
  readonly least: number;
  readonly most: number;
}

/** What a group may still take in. */
interface Room {
  bytes: number;
  time: number;
}

/**
 * Deliveries on their way to the workers. Senders take turns, so that none holds up another; what one sends keeps its
 * order. What takes long is taken by itself, so that there are always threads for the rest. Bounded: `offer` refuses what does
 * not fit.
 */
export class IntakeQueue {
  queuedBytes = 0;
  /** In the order of their turns; only senders of whom something waits. */
  private readonly directory = new Map<string, Sender>();
  private readonly takers: Record<Takers, (() => void)[]> = { groups: [], heavy: [] };
  private readonly drained: (() => void)[] = [];
  private readonly efforts = new Efforts();
  /** How many deliveries wait that do not linger, who waits for the first of them, and how many takers wait for more to come. */
  private hurried = 0;
  private readonly lingering: (() => void)[] = [];
  private gathering = 0;
  private closed = false;
  private isAbandoned = false;
  /** What was given up. */
  readonly abandoned: Waiting[] = [];

  /** Whether there is no room, for a sender when given. A single delivery of a sender always fits a queue that is not full. */
  full(sender?: string): boolean {
    if (this.queuedBytes >= maxQueuedBytes) return true;
    return sender !== undefined && (this.directory.get(sender)?.bytes ?? 0) >= senderShare;
  }

  get isEmpty(): boolean {
    return this.directory.size === 0;
  }

  /** Adds a delivery behind those of its sender, its bytes in shared memory; false when there is no room for it. */
  offer(waiting: Waiting): boolean {
    const name = senderOf(waiting);
    if (this.full(name)) return false;
    const delivery = { ...waiting.delivery, chunks: inSharedMemory(waiting.delivery.chunks) };
    this.senderNamed(name).waiting.push({ ...waiting, delivery });
    this.count(name, waiting, 1);
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
      this.count(name, waiting, 1);
    }
    this.wake();
  }

  /**
   * Takes the next deliveries but those that take long: waits for the first, then for more to join it, and takes at most about
   * `bytes` bytes, unpacked. Once the queue is closed it takes whatever waits, and undefined when nothing does.
   */
  async take(bytes: number, linger: Linger): Promise<readonly Waiting[] | undefined> {
    for (;;) {
      if (!this.firstWith(false)) {
        if (this.closed) return this.lastOnes();
        await this.change('groups');
        continue;
      }
      await this.gather(bytes, linger);
      const group = this.nextGroup(bytes);
      if (group.length > 0) return group;
    }
  }

  /** Takes the next delivery that takes long, alone; else as `take`. */
  async takeHeavy(): Promise<readonly Waiting[] | undefined> {
    for (;;) {
      const sender = this.firstWith(true);
      if (sender) return [this.shift(sender)];
      if (this.closed) return this.lastOnes();
      await this.change('heavy');
    }
  }

  /** Whether a delivery takes long, or may. */
  isHeavy(waiting: Waiting): boolean {
    const cost = costOf(waiting);
    return cost >= heavyFrom || this.effortOf(waiting) >= heavyTime || this.efforts.isUnknown(senderOf(waiting), cost);
  }

  /** Learns how many milliseconds a delivery took a thread. */
  took(waiting: Waiting, time: number): void {
    this.efforts.learn(senderOf(waiting), costOf(waiting), time);
    // What waited for some may be for the others now.
    if (!this.isEmpty) this.wake();
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
    this.abandoned.push(...[...this.directory.values()].flatMap(({ waiting }) => waiting));
    this.directory.clear();
    this.queuedBytes = 0;
    this.hurried = 0;
    this.wake();
  }

  /** Resolves when there is room again, for a sender when given. */
  async room(sender?: string): Promise<void> {
    while (this.full(sender)) await new Promise<void>((resolve) => this.drained.push(resolve));
  }

  private nextGroup(bytes: number): readonly Waiting[] {
    const group: Waiting[] = [];
    const passedOver = new Set<string>();
    const room: Room = { bytes, time: groupTime };
    while (room.bytes > 0) {
      const sender = this.firstWith(false, passedOver);
      if (!sender) break;
      const turn = this.turnOf(sender, room, group.length === 0);
      if (turn.length === 0) passedOver.add(sender.name);
      else this.endTurn(sender);
      group.push(...turn);
    }
    if (group.length > 0) this.roomAgain();
    return group;
  }

  /** What a sender gets into a group at a time, of what there is room for; the first of a group always fits. */
  private turnOf(sender: Sender, room: Room, isFirst: boolean): readonly Waiting[] {
    const turn: Waiting[] = [];
    let bytes = 0;
    for (let next = sender.waiting[0]; next && bytes < turnBytes; next = sender.waiting[0]) {
      const begins = isFirst && turn.length === 0;
      const [cost, effort] = [costOf(next), this.effortOf(next)];
      if (this.isHeavy(next) || (!begins && (cost > room.bytes || effort > room.time))) break;
      sender.waiting.shift();
      this.count(sender.name, next, -1);
      turn.push(next);
      bytes += cost;
      room.bytes -= cost;
      room.time -= effort;
    }
    return turn;
  }

  private shift(sender: Sender): Waiting {
    const first = sender.waiting.shift() as Waiting;
    this.count(sender.name, first, -1);
    this.endTurn(sender);
    this.roomAgain();
    return first;
  }

  /** Of a closed queue that holds only what others would take: they may have left already. */
  private lastOnes(): readonly Waiting[] | undefined {
    const [sender] = this.directory.values();
    return sender && [this.shift(sender)];
  }

  /** The sender whose turn it is, of those whose next delivery takes long or does not. */
  private firstWith(heavy: boolean, passedOver?: ReadonlySet<string>): Sender | undefined {
    for (const sender of this.directory.values()) {
      if (!passedOver?.has(sender.name) && this.isHeavy(sender.waiting[0] as Waiting) === heavy) return sender;
    }
    return undefined;
  }

  private effortOf(waiting: Waiting): number {
    return this.efforts.expected(senderOf(waiting), costOf(waiting));
  }

  private roomAgain(): void {
    for (const resolve of this.drained.splice(0)) resolve();
    // What follows may be for the others who wait.
    if (!this.isEmpty || this.closed) this.wake();
  }

  /** The sender goes to the end of the row; one of whom nothing waits leaves it. */
  private endTurn(sender: Sender): void {
    this.directory.delete(sender.name);
    if (sender.waiting.length > 0) this.directory.set(sender.name, sender);
  }

  private senderNamed(name: string): Sender {
    let sender = this.directory.get(name);
    if (!sender) this.directory.set(name, (sender = { name, waiting: [], bytes: 0 }));
    return sender;
  }

  /** Counts a delivery that came (1) or went (−1). */
  private count(name: string, { bytes, lingers }: Waiting, sign: 1 | -1): void {
    this.queuedBytes += sign * bytes;
    this.senderNamed(name).bytes += sign * bytes;
    if (lingers) return;
    this.hurried += sign;
    if (this.hurried > 0) this.hurry();
  }

  /** Waits for more to join what waits, unless there are so many bytes of it. */
  private async gather(bytes: number, { least, most }: Linger): Promise<void> {
    this.gathering++;
    const isEnough = (): boolean => this.closed || this.queuedBytes >= bytes;
    if (!isEnough() && this.hurried === 0) await this.lingerFor(most - least);
    if (!isEnough()) await pause(least);
    this.gathering--;
  }

  /** Waits for so many milliseconds, or until something comes that does not linger. */
  private lingerFor(time: number): Promise<void> {
    return new Promise((resolve) => {
      const timer = setTimeout(resolve, time);
      this.lingering.push(() => {
        clearTimeout(timer);
        resolve();
      });
    });
  }

  private hurry(): void {
    for (const goOn of this.lingering.splice(0)) goOn();
  }

  private change(takers: Takers): Promise<void> {
    return new Promise((resolve) => this.takers[takers].push(resolve));
  }

  private wake(): void {
    if (this.closed) this.hurry();
    const { groups, heavy } = this.takers;
    const wakeOne = (takers: (() => void)[]): void => {
      for (const resolve of takers.splice(0, this.closed ? takers.length : 1)) resolve();
    };
    // Who gathers takes what came, and wakes the next where something is left.
    if (this.closed || this.gathering === 0) wakeOne(groups);
    wakeOne(heavy);
  }
}

function senderOf({ sender, delivery }: Waiting): string {
  return sender ?? delivery.source;
}

/** Bytes of a delivery once it is unpacked; none counts for nothing. */
function costOf({ bytes, unpacked }: Waiting): number {
  return Math.max(1, unpacked ?? bytes);
}
