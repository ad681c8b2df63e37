import { LRUCache } from 'lru-cache';

/** Milliseconds of a thread for a byte of senders of whom nothing is known: some 40 MB a second. */
const usualRate = 1 / 40_000;
/** Deliveries of fewer bytes say little about larger ones, and never take long. */
const tellingBytes = 50_000;
/** From so many bytes on nothing is expected of a delivery before its sender is known. */
const doubtfulBytes = 256_000;
/** How much a delivery that took less than expected changes what is expected of the next one. */
const easing = 0.3;
const mostSenders = 2_000;

/**
 * How long deliveries are likely to take, by what those of the same sender took: a few bytes may be a million events, or hundreds
 * of fields each. More effort than expected is believed at once, less of it by and by.
 */
export class Efforts {
  private readonly rates = new LRUCache<string, number>({ max: mostSenders });

  /** Milliseconds that a delivery of so many bytes, unpacked, is likely to take. */
  expected(sender: string, bytes: number): number {
    return bytes * ((bytes >= tellingBytes ? this.rates.get(sender) : undefined) ?? usualRate);
  }

  /** Whether a delivery of so many bytes, unpacked, may take much longer than others: none of that sender that would tell was met before. */
  isUnknown(sender: string, bytes: number): boolean {
    return bytes >= doubtfulBytes && !this.rates.has(sender);
  }

  /** Learns that a delivery of so many bytes, unpacked, took a thread so many milliseconds. */
  learn(sender: string, bytes: number, time: number): void {
    if (bytes < tellingBytes) return;
    const rate = time / bytes;
    const before = this.rates.get(sender) ?? usualRate;
    this.rates.set(sender, rate > before ? rate : before + (rate - before) * easing);
  }
}
