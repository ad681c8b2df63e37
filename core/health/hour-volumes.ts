import { hour } from '../events/time-units.ts';
import { Amounts } from './amounts.ts';

/** What came for a place in the hour that begins at `start` (milliseconds). */
export interface HourVolume {
  readonly start: number;
  readonly place: number;
  readonly events: number;
  readonly bytes: number;
}

/** Events and bytes by hour, of many that are counted by their place. */
export class HourVolumes {
  /** The latest hour, which is that of all live events, in columns. */
  private latest = { start: Number.NEGATIVE_INFINITY, amounts: new Amounts() };
  /** Earlier hours, by start and place: history has many hours, and few places in each. */
  private readonly earlier = new Map<number, Map<number, { events: number; bytes: number }>>();

  /** Counts what came for a place at a time (milliseconds). */
  add(place: number, time: number, events: number, bytes: number): void {
    const start = Math.floor(time / hour) * hour;
    if (start > this.latest.start) this.turn(start);
    if (start === this.latest.start) this.latest.amounts.add(place, events, bytes);
    else this.addEarlier(start, place, events, bytes);
  }

  /** Everything that was counted. */
  *list(): Iterable<HourVolume> {
    const { start, amounts } = this.latest;
    for (const place of amounts.places()) yield { start, place, ...amounts.of(place) };
    for (const [at, places] of this.earlier) {
      for (const [place, amount] of places) yield { start: at, place, ...amount };
    }
  }

  private turn(start: number): void {
    const { amounts, start: before } = this.latest;
    for (const place of amounts.places()) {
      const { events, bytes } = amounts.of(place);
      this.addEarlier(before, place, events, bytes);
    }
    amounts.clear();
    this.latest = { start, amounts };
  }

  private addEarlier(start: number, place: number, events: number, bytes: number): void {
    let places = this.earlier.get(start);
    if (!places) this.earlier.set(start, (places = new Map()));
    const amount = places.get(place);
    if (!amount) places.set(place, { events, bytes });
    else {
      amount.events += events;
      amount.bytes += bytes;
    }
  }
}
