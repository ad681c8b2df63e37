import { readlinkSync } from 'node:fs';
import { setPriority } from 'node:os';

/**
 * Has the calling thread let others go first where there is too little of the processor for all: by its niceness (0 as all
 * threads, 19 for the least), which Linux keeps for each thread. Elsewhere nothing happens.
 */
export function giveWay(niceness: number): void {
  if (niceness <= 0) return;
  try {
    // "4711/task/4715": the number of the thread that asks.
    const thread = Number(readlinkSync('/proc/thread-self').split('/').at(-1));
    if (Number.isInteger(thread)) setPriority(thread, niceness);
  } catch {
    // It works as the others do.
  }
}
