import type { FormatChoice } from '#core/formats/index.ts';
import { readRecords } from '#core/formats/read.ts';
import { joinMessages, maxRecordBytes } from '#core/formats/records.ts';
import type { Source } from '#store/sources/sources.ts';
import type { Delivery } from '../deliveries/delivery.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import { fewBytes, type IntakeQueue, syslogSender } from './queue.ts';
import type { TapeRate } from './tape-rate.ts';

/**
 * Messages of syslog are gathered for this long before they become deliveries, in milliseconds: for less than a group waits, so
 * that what came with other events is committed with them.
 */
const gatherTime = 40;
/** Or until there are this many bytes of them. */
const gatherBytes = 1_000_000;

export interface SyslogSetting {
  readonly queue: IntakeQueue;
  readonly directory: SourceDirectory;
  readonly tapeRate: TapeRate;
  /** Counts datagrams that found no room. */
  readonly lost: (messages: number) => void;
}

/** Gathers syslog messages and delivers them to the sources they belong to. */
export class SyslogGatherer {
  private messages: Uint8Array[] = [];
  private bytes = 0;
  private timer: NodeJS.Timeout | undefined;
  private deliveries = 0;
  private readonly run = `${process.pid}-${Date.now()}`;
  /** What is being sent on: each batch after the one before. */
  private sending: Promise<void> = Promise.resolve();

  constructor(private readonly setting: SyslogSetting) {}

  /** Adds a message; it is sent on soon. Longer ones than a record may be are cut. */
  add(message: Uint8Array): void {
    if (message.length === 0) return;
    this.messages.push(message.length > maxRecordBytes ? message.subarray(0, maxRecordBytes) : message);
    this.bytes += message.length;
    if (this.bytes >= gatherBytes) void this.flush();
    else this.timer ??= setTimeout(() => void this.flush(), gatherTime);
  }

  /** Sends on what has been gathered; resolves when all of it waits in the queue. */
  flush(): Promise<void> {
    clearTimeout(this.timer);
    this.timer = undefined;
    const { messages } = this;
    this.messages = [];
    this.bytes = 0;
    if (messages.length > 0) this.sending = this.sending.then(() => this.sendOn(messages));
    return this.sending;
  }

  private async sendOn(messages: readonly Uint8Array[]): Promise<void> {
    for (const [source, own] of await this.bySource(messages)) this.deliver(source, own);
  }

  /** Which message belongs to which source, by the conditions of the sources over the header fields. */
  private async bySource(
    messages: readonly Uint8Array[],
  ): Promise<ReadonlyMap<Source | string, readonly Uint8Array[]>> {
    const { batch, records } = readRecords('', joinMessages(messages), 'auto', {
      received: Date.now(),
      backfill: false,
    });
    const owner = new Array<Source | undefined>(messages.length);
    for (const { source, accepts } of this.setting.directory.syslogSources) {
      const mask = accepts.test(batch, { now: Date.now() });
      for (let row = 0; row < mask.length; row++) if (mask[row] === 1) owner[records[row] as number] ??= source;
    }
    const parts = new Map<Source | string, Uint8Array[]>();
    const fallback =
      owner.includes(undefined) || owner.length > records.length ? await this.setting.directory.syslogFallback() : '';
    messages.forEach((message, i) => {
      const key = owner[i] ?? fallback;
      const part = parts.get(key);
      if (part) part.push(message);
      else parts.set(key, [message]);
    });
    return parts;
  }

  private deliver(source: Source | string, messages: readonly Uint8Array[]): void {
    const name = typeof source === 'string' ? source : source.name;
    const received = Date.now();
    const known = typeof source === 'string' ? this.setting.directory.source(source) : source;
    const delivery: Delivery = {
      ...(known && this.setting.directory.deliveryOf(known)),
      source: name,
      shape: 'messages',
      format: (typeof source === 'string' ? 'auto' : source.format) as FormatChoice,
      gzip: false,
      chunks: messages,
      received,
      backfill: false,
      // Nobody sends these again but the engine itself, after a commit of which it is not known whether it succeeded.
      key: `syslog-${this.run}-${this.deliveries++}`,
      tapeEvery: this.setting.tapeRate.every(name, received, messages.length),
    };
    const bytes = messages.reduce((sum, message) => sum + message.length, 0);
    const isQueued = this.setting.queue.offer({
      delivery,
      bytes,
      answer: () => {},
      sender: syslogSender,
      lingers: bytes < fewBytes,
    });
    if (!isQueued) this.setting.lost(messages.length);
  }
}
