import { Amounts } from './amounts.ts';

/** Length of a slot in milliseconds, and how many are kept: rates are over the last minute. */
const slotTime = 5_000;
const slotCount = 12;

/** Events and bytes of the last minute of many that are counted by their place, in slots that are used in turn. */
export class RecentRates {
  private readonly slots = Array.from({ length: slotCount }, () => new Amounts());
  private slot = 0;

  /** Counts what came for a place at `now` (milliseconds). */
  add(place: number, now: number, events: number, bytes: number): void {
    this.turn(now);
    this.at(this.slot).add(place, events, bytes);
  }

  /** Events and bytes a second of a place over the last minute. */
  rate(place: number, now: number): { readonly events: number; readonly bytes: number } {
    this.turn(now);
    const sum = { events: 0, bytes: 0 };
    for (const amounts of this.slots) {
      const { events, bytes } = amounts.of(place);
      sum.events += events;
      sum.bytes += bytes;
    }
    const seconds = (slotCount * slotTime) / 1000;
    return { events: sum.events / seconds, bytes: sum.bytes / seconds };
  }

  private at(slot: number): Amounts {
    return this.slots[slot % slotCount] as Amounts;
  }

  private turn(now: number): void {
    const slot = Math.floor(now / slotTime);
    const passed = Math.min(slotCount, slot - this.slot);
    for (let i = 1; i <= passed; i++) this.at(slot - passed + i).clear();
    if (slot > this.slot) this.slot = slot;
  }
}
