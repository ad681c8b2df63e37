import { hour, minute } from '#core/events/time-units.ts';
import { beganWithin } from '#core/why/onset.ts';
import type { Database } from '#store/database.ts';
import { listSegments } from '#store/events/segments.ts';
import type { HeaderCache } from './header-cache.ts';

/** The minute is searched from this long before the start of an hour to this long after it. */
const back = 30 * minute;
const ahead = 1.5 * hour;
/** Most jumps that are remembered. */
const most = 1_000;

/** Finds the minute in which the volume of a source jumped. After a day the ledger only has hours; segment headers still have minutes. */
export class JumpMinutes {
  private readonly known = new Map<string, number>();

  constructor(
    private readonly database: Database,
    private readonly headers: HeaderCache,
  ) {}

  /** The minute near the start of an hour in which a source began to send more or less (milliseconds); the hour itself if nothing is stored. */
  async of(source: string, around: number): Promise<number> {
    const key = `${around} ${source}`;
    const known = this.known.get(key);
    if (known !== undefined) return known;
    const found = await this.look(source, around);
    // More events may still arrive for this time.
    if (Date.now() < around + ahead) return found;
    if (this.known.size >= most) this.known.clear();
    this.known.set(key, found);
    return found;
  }

  private async look(source: string, around: number): Promise<number> {
    const first = Math.floor((around - back) / minute);
    const window = { from: first * minute, to: Math.min(around + ahead, Date.now()) };
    const counts = new Float64Array(Math.max(0, Math.floor(window.to / minute) - first));
    const segments = (await listSegments(this.database, window, undefined)).filter((one) => one.source === source);
    for await (const [some, headers] of this.headers.pieces(segments)) {
      for (const { id } of some) {
        const minutes = headers.get(id)?.statistics?.minutes;
        minutes?.minute.forEach((at, i) => {
          const place = at - first;
          if (place >= 0 && place < counts.length)
            counts[place] = (counts[place] as number) + (minutes.events[i] as number);
        });
      }
    }
    if (counts.length < 2 || counts.every((count) => count === 0)) return around;
    const weights = new Float64Array(counts.length).fill(1);
    return (first + beganWithin({ values: counts, weights }, 'step')) * minute;
  }
}
