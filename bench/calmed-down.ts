import { readFileSync } from 'node:fs';
import { setTimeout as pause } from 'node:timers/promises';

/**
 * An engine that takes less of a core over ten seconds, so many times in a row, has taken what it is given in and made all of it; it has
 * begun to when it took more. So long that is waited for at most (milliseconds).
 */
const calm = 0.15;
const calmTurns = 3;
const calmWithin = 900_000;

/** Seconds of processor time that a process has taken, as Linux counts them (proc(5), fields 14 and 15, in hundredths). */
function processorSeconds(pid: number): number {
  const fields = readFileSync(`/proc/${pid}/stat`, 'utf8').split(' ');
  return (Number(fields[13]) + Number(fields[14])) / 100;
}

/** The part of a core that a process takes over so many milliseconds. */
export async function shareOver(pid: number, time: number): Promise<number> {
  const before = processorSeconds(pid);
  await pause(time);
  return (processorSeconds(pid) - before) / (time / 1_000);
}

/** Waits until a process that takes two weeks in has done so. */
export async function calmedDown(pid: () => number): Promise<void> {
  const end = Date.now() + calmWithin;
  while ((await shareOver(pid(), 2_000)) <= calm && Date.now() < end);
  for (let turns = 0; turns < calmTurns && Date.now() < end; )
    turns = (await shareOver(pid(), 10_000)) <= calm ? turns + 1 : 0;
}
