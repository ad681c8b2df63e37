import type { Outcome } from '../routing/ledger.ts';
import type { DaySeries } from './day-series.ts';

/** What one day adds to a series. */
export interface DayRow {
  readonly day: number;
  readonly source: string;
  readonly tier: string;
  readonly outcome: Outcome;
  readonly shape?: string;
  readonly severity?: number;
  readonly events: number;
  readonly bytes: number;
  readonly stored?: number;
}

/** Days that a series has room for beyond the one that it grows for. */
const spare = 32;

interface GrowingSeries extends DaySeries {
  from: number;
  events: Float64Array;
  bytes: Float64Array;
  stored: Float64Array;
}

/** Series of volume by the day, whose days can be put in the place of what they were. */
export class DayTable {
  private readonly known = new Map<string, GrowingSeries>();

  /** The series; they change with the table. */
  series(): readonly DaySeries[] {
    return [...this.known.values()];
  }

  /** Puts the rows of a stretch of days in the place of all that these days had. `to` is the day after the last one. */
  replace(from: number, to: number, rows: readonly DayRow[]): void {
    for (const { from: first, events, bytes, stored } of this.known.values()) {
      const [start, end] = [Math.max(0, from - first), to - first];
      if (end > 0) for (const figures of [events, bytes, stored]) figures.fill(0, start, end);
    }
    for (const row of rows) if (row.day >= from && row.day < to) this.add(row);
  }

  private add({ day, source, tier, outcome, shape = '', severity = -1, events, bytes, stored = 0 }: DayRow): void {
    const id = `${source}\n${tier}\n${outcome}\n${shape}\n${severity}`;
    let series = this.known.get(id);
    if (!series) {
      const none = new Float64Array(0);
      series = { source, tier, outcome, shape, severity, from: day, events: none, bytes: none, stored: none };
      this.known.set(id, series);
    }
    makeRoom(series, day);
    const at = day - series.from;
    series.events[at] = (series.events[at] as number) + events;
    series.bytes[at] = (series.bytes[at] as number) + bytes;
    series.stored[at] = (series.stored[at] as number) + stored;
  }
}

function makeRoom(series: GrowingSeries, day: number): void {
  const { from, events } = series;
  if (day >= from && day < from + events.length) return;
  const first = day < from ? day - spare : from;
  const length = Math.max(from + events.length, day + spare) - first;
  const moved = (figures: Float64Array): Float64Array => {
    const grown = new Float64Array(length);
    grown.set(figures, from - first);
    return grown;
  };
  Object.assign(series, {
    events: moved(events),
    bytes: moved(series.bytes),
    stored: moved(series.stored),
    from: first,
  });
}
