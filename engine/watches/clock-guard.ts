import { day } from '#core/events/time-units.ts';
import { formatDuration } from '#core/events/units.ts';
import { readInstallation, writeInstallation } from '#store/cluster/installation.ts';
import type { Database } from '#store/database.ts';
import type { Log } from '../base/log.ts';

/** How long nothing is deleted after it went ahead farther (milliseconds). */
const holdTime = day;
/** For so long a look holds for whoever asks next (milliseconds); unless the clock has gone back. */
const lookEvery = 10_000;
const name = 'clock';

/** What the store remembers of the clock: when it was last looked at, how far it went ahead when it leapt, and until when nothing is deleted for that (milliseconds). */
export interface ClockState {
  readonly at: number;
  readonly leapt: number;
  readonly heldUntil: number;
}

/**
 * What is to be remembered of a clock that says `now`. One that went ahead by more than `leap` may be wrong, or nobody was there: what
 * is past its time by it stays for a day, in which people may set it right. One that goes back ends that.
 */
export function clockAfter(before: ClockState | undefined, now: number, leap: number): ClockState {
  if (!before || now < before.at) return { at: now, leapt: 0, heldUntil: 0 };
  if (now - before.at > leap) return { at: now, leapt: now - before.at, heldUntil: now + holdTime };
  return before.heldUntil > now ? { ...before, at: now } : { at: now, leapt: 0, heldUntil: 0 };
}

/** Watches that a clock which is wrong does not delete what is stored. */
export class ClockGuard {
  private state: ClockState | undefined;
  private looking: Promise<ClockState> | undefined;

  constructor(
    private readonly database: Database,
    private readonly leap: number,
    private readonly log: Log,
  ) {}

  /** The leap of the clock for which nothing is deleted now; undefined where there is none. */
  leapAt(now: number): Pick<ClockState, 'leapt' | 'heldUntil'> | undefined {
    return this.state && this.state.heldUntil > now ? this.state : undefined;
  }

  /** Looks at the clock; whether what is past its time may be deleted. */
  async mayDelete(now: number): Promise<boolean> {
    const { state } = this;
    if (!state || now < state.at || now - state.at > lookEvery) {
      this.looking ??= this.look(now).finally(() => {
        this.looking = undefined;
      });
      this.state = await this.looking;
    }
    return this.leapAt(now) === undefined;
  }

  private async look(now: number): Promise<ClockState> {
    const next = clockAfter(stateIn(await readInstallation(this.database, name)), now, this.leap);
    await writeInstallation(this.database.db, name, `${next.at} ${next.leapt} ${next.heldUntil}`);
    if (next.heldUntil > now && this.state?.heldUntil !== next.heldUntil)
      this.log.warn(
        `The clock went ahead by ${formatDuration(next.leapt / 1_000)} since it was last looked at: nothing is deleted until ${new Date(next.heldUntil).toISOString()}, in case it is wrong.`,
      );
    return next;
  }
}

function stateIn(text: string | undefined): ClockState | undefined {
  const [at, leapt, heldUntil] = (text ?? '').split(' ').map(Number);
  return at && leapt !== undefined && heldUntil !== undefined ? { at, leapt, heldUntil } : undefined;
}
