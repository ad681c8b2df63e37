import { appendFileSync, existsSync, mkdirSync, renameSync, rmSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { chanceOf } from './chance.ts';
import { ports, reference, vessels } from './world.ts';

/** A log file of this size is rotated, and so many old ones stay. */
const rotateAt = 400_000;
const oldFiles = 3;

/** Where the harbour desk writes its log, below a folder. */
export function harbourLog(folder: string): string {
  return join(folder, 'harbour-desk', 'desk.log');
}

/** The lines that the harbour desk writes at a time (milliseconds): a few a minute, now and then with a stack trace. */
function linesAt(time: number): readonly string[] {
  const chance = chanceOf(`harbour-desk ${Math.floor(time / 1000)}`);
  if (!chance.often(0.12)) return [];
  const at = new Date(time).toISOString();
  if (!chance.often(0.05)) {
    return [
      `${at} INFO desk.Mooring - ${chance.pick(vessels)} asks for berth ${chance.whole(1, 6)} at ${chance.pick(ports)}`,
    ];
  }
  return [
    `${at} ERROR desk.Mooring - berth plan for ${reference(chance)} could not be kept`,
    'desk.store.LockedError: the plan is being edited',
    `  at desk.store.PlanStore.save(PlanStore:${chance.whole(40, 300)})`,
    `  at desk.Mooring.assign(Mooring:${chance.whole(10, 90)})`,
    'Caused by: desk.store.StaleRevision: another desk was faster',
    `  at desk.store.Revision.check(Revision:${chance.whole(10, 60)})`,
  ];
}

/** Writes what the harbour desk logs in a second to its file, which is rotated by renaming. */
export function writeHarbourLog(folder: string, time: number): void {
  const lines = linesAt(time);
  if (lines.length === 0) return;
  const file = harbourLog(folder);
  mkdirSync(join(folder, 'harbour-desk'), { recursive: true });
  if (existsSync(file) && statSync(file).size > rotateAt) {
    rmSync(`${file}.${oldFiles}`, { force: true });
    for (let n = oldFiles - 1; n >= 1; n--)
      if (existsSync(`${file}.${n}`)) renameSync(`${file}.${n}`, `${file}.${n + 1}`);
    renameSync(file, `${file}.1`);
  }
  appendFileSync(file, `${lines.join('\n')}\n`);
}
