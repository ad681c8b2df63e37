import type { DaySeries } from './day-series.ts';
import { dayLength } from './month/calendar.ts';

/** Volume that is priced alike, by day of a window: what came, what of it was kept, and what is stored. */
export class GroupFigures {
  readonly bytes: Float64Array;
  readonly keptEvents: Float64Array;
  /** Bytes that are stored; of a byte that is stored for a part of a day its part, cut to whole bytes. */
  readonly lying: Float64Array;
  /** What begins to lie there on a day, less what ends to, while figures are gathered. */
  private readonly turns: Float64Array;

  /** `from` up to `to`, in days. */
  constructor(
    private readonly from: number,
    private readonly to: number,
  ) {
    const days = (): Float64Array => new Float64Array(to - from + 1);
    this.bytes = days();
    this.keptEvents = days();
    this.lying = days();
    this.turns = days();
  }

  /**
   * Takes series together, in the place of what was gathered before. `endOf` tells when what came on a day goes (milliseconds);
   * what came before the window is stored within it.
   */
  gather(series: readonly DaySeries[], endOf: (day: number) => number): void {
    for (const figures of [this.bytes, this.keptEvents, this.lying, this.turns]) figures.fill(0);
    for (const one of series) {
      this.arrive(one);
      const last = Math.min(one.stored.length, this.to - one.from);
      for (let at = 0; at < last; at++) {
        const stored = one.stored[at] as number;
        if (stored > 0) this.lay(stored, one.from + at, endOf(one.from + at));
      }
    }
    let stored = 0;
    for (let at = 0; at < this.to - this.from; at++) {
      stored += this.turns[at] as number;
      this.lying[at] = stored + (this.lying[at] as number);
    }
  }

  private arrive({ from, outcome, events, bytes }: DaySeries): void {
    const shift = from - this.from;
    const last = Math.min(bytes.length, this.to - from);
    for (let at = Math.max(0, -shift); at < last; at++) {
      const day = at + shift;
      this.bytes[day] = (this.bytes[day] as number) + (bytes[at] as number);
      if (outcome === 'kept') this.keptEvents[day] = (this.keptEvents[day] as number) + (events[at] as number);
    }
  }

  private lay(stored: number, day: number, end: number): void {
    const { from, to, turns, lying } = this;
    const lastWhole = Math.floor(end / dayLength);
    const [first, last] = [Math.max(day, from) - from, Math.min(lastWhole, to) - from];
    if (first < last) {
      turns[first] = (turns[first] as number) + stored;
      turns[last] = (turns[last] as number) - stored;
    }
    const rest = end - lastWhole * dayLength;
    if (rest === 0 || lastWhole < from || lastWhole >= to) return;
    const at = lastWhole - from;
    lying[at] = (lying[at] as number) + Math.floor((stored * rest) / dayLength);
  }
}
