import { type PiscinaTask, queueOptionsSymbol, type TaskQueue } from 'piscina';

/** Tasks with this mark go ahead of those without one; those with the other one behind them. */
export const ahead = { [queueOptionsSymbol]: { rank: 0 } };
export const behind = { [queueOptionsSymbol]: { rank: 2 } };

/** After so many tasks that went before it, one that is behind has its turn: it waits, but not for ever. */
const mostBefore = 8;

/**
 * The tasks that wait for a thread: those that go ahead first, then those without a mark, then those behind, each in the order in
 * which they came. What goes ahead has to follow from what did not, so that nothing waits for ever.
 */
export class RankedQueue implements TaskQueue {
  private readonly ranks: readonly [PiscinaTask[], PiscinaTask[], PiscinaTask[]] = [[], [], []];
  private before = 0;

  get size(): number {
    return this.ranks.reduce((sum, tasks) => sum + tasks.length, 0);
  }

  push(task: PiscinaTask): void {
    this.rankOf(task).push(task);
  }

  /** Puts a task back that was taken and found no thread. */
  unshift(task: PiscinaTask): void {
    this.rankOf(task).unshift(task);
  }

  shift(): PiscinaTask | null {
    const [first, middle, last] = this.ranks;
    if (last.length > 0 && (this.before >= mostBefore || first.length + middle.length === 0)) {
      this.before = 0;
      return last.shift() ?? null;
    }
    if (last.length > 0) this.before++;
    return first.shift() ?? middle.shift() ?? null;
  }

  remove(task: PiscinaTask): void {
    const tasks = this.rankOf(task);
    const place = tasks.indexOf(task);
    if (place >= 0) tasks.splice(place, 1);
  }

  private rankOf(task: PiscinaTask): PiscinaTask[] {
    const [first, middle, last] = this.ranks;
    const options: object | null = task[queueOptionsSymbol];
    if (options === null || !('rank' in options)) return middle;
    return options.rank === 0 ? first : last;
  }
}
