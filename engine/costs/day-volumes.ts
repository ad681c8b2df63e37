import type { DaySeries } from '#core/costs/day-series.ts';
import { DayTable } from '#core/costs/day-table.ts';
import { dayOf } from '#core/costs/month/calendar.ts';
import { withShares } from '#core/costs/with-shares.ts';
import type { Database } from '#store/database.ts';
import { listDayStates } from '#store/volume/day-changes.ts';
import {
  addUpShapes,
  addUpVolume,
  type DayWindow,
  listShapeDays,
  listVolumeDays,
  type ReadDays,
} from '#store/volume/volume-days.ts';
import { cachedFor } from '../base/cached-for.ts';

/** How far back volume is looked at (days): what is stored longest came so long ago. */
const reach = 800;
/** Senders' clocks may be ahead: days to come that are looked at. */
const ahead = 3;
/** For how long (milliseconds) what was read is given again. */
const freshFor = 10_000;

/** The ledger by the day, at most some seconds old; of days that are over only those are read again that changed. */
export class DayVolumes {
  private readonly volume = new DayTable();
  private readonly shapes = new DayTable();
  private readonly volumeRead = new Map<number, number>();
  private readonly shapesRead = new Map<number, number>();
  private turn: Promise<unknown> = Promise.resolve();
  private readonly whole = cachedFor(freshFor, (now) => this.inTurn(() => this.readVolume(now)));
  private readonly shared = cachedFor(freshFor, (now) => this.inTurn(() => this.readShapes(now)));

  constructor(private readonly database: Database) {}

  /** By source, tier and outcome; with `withShapes` by shape and severity too. */
  async series(now: number, withShapes = false): Promise<readonly DaySeries[]> {
    return await (withShapes ? this.shared : this.whole)(now);
  }

  /** One reads after the other, as they fill the same tables. */
  private inTurn<Value>(work: () => Promise<Value>): Promise<Value> {
    const next = this.turn.then(work);
    this.turn = next.catch(() => {});
    return next;
  }

  private async readVolume(now: number): Promise<readonly DaySeries[]> {
    const read = { summed: listVolumeDays, added: addUpVolume };
    await this.bring(now, this.volume, this.volumeRead, read);
    return this.volume.series();
  }

  private async readShapes(now: number): Promise<readonly DaySeries[]> {
    await this.readVolume(now);
    await this.bring(now, this.shapes, this.shapesRead, { summed: listShapeDays, added: addUpShapes });
    return withShares(this.volume.series(), this.shapes.series());
  }

  private async bring(now: number, table: DayTable, known: Map<number, number>, read: DayReads): Promise<void> {
    const { db } = this.database;
    const today = dayOf(now);
    const from = today - reach;
    const over = (await listDayStates(db, from)).filter(({ day }) => day < today - 1);
    const changed = over.filter(({ day, changes }) => known.get(day) !== changes);
    const isKnown = new Set(over.map(({ day }) => day));
    // What is not over, or was not taken up since it ended, is read as it is each time.
    const live = Array.from({ length: reach + ahead }, (_, i) => from + i).filter((day) => !isKnown.has(day));
    const daysOf = (isSummed: boolean): readonly number[] =>
      changed.filter((state) => state.isSummed === isSummed).map(({ day }) => day);
    for (const window of windowsOf(daysOf(true))) table.replace(window.from, window.to, await read.summed(db, window));
    for (const days of [daysOf(false), live])
      for (const window of windowsOf(days)) table.replace(window.from, window.to, await read.added(db, window));
    for (const { day, changes } of changed) known.set(day, changes);
  }
}

/** How days are read: those whose sums are made, and all others. */
interface DayReads {
  readonly summed: ReadDays;
  readonly added: ReadDays;
}

/** Days that follow each other, as windows. */
function windowsOf(days: readonly number[]): readonly DayWindow[] {
  const windows: { from: number; to: number }[] = [];
  for (const day of days) {
    const last = windows.at(-1);
    if (last?.to === day) last.to = day + 1;
    else windows.push({ from: day, to: day + 1 });
  }
  return windows;
}
