import { type PiscinaTask, queueOptionsSymbol, type TaskQueue } from 'piscina';

/** Tasks with this mark go ahead of those without it. */
export const ahead = { [queueOptionsSymbol]: { isAhead: true } };

/**
 * The tasks that wait for a thread: those that go ahead first, then the others, each in the order in which they came. What
 * goes ahead has to follow from what did not, so that nothing waits for ever.
 */
export class RankedQueue implements TaskQueue {
  private readonly first: PiscinaTask[] = [];
  private readonly others: PiscinaTask[] = [];

  get size(): number {
    return this.first.length + this.others.length;
  }

  push(task: PiscinaTask): void {
    this.rankOf(task).push(task);
  }

  /** Puts a task back that was taken and found no thread. */
  unshift(task: PiscinaTask): void {
    this.rankOf(task).unshift(task);
  }

  shift(): PiscinaTask | null {
    return this.first.shift() ?? this.others.shift() ?? null;
  }

  remove(task: PiscinaTask): void {
    const tasks = this.rankOf(task);
    const place = tasks.indexOf(task);
    if (place >= 0) tasks.splice(place, 1);
  }

  private rankOf(task: PiscinaTask): PiscinaTask[] {
    return task[queueOptionsSymbol] === null ? this.others : this.first;
  }
}
