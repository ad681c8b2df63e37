import {
  fiveMinutes,
  stepStart,
  type TalkerLevel,
  talkerDays,
  talkerHours,
  talkerLevels,
  talkersKeptFrom,
} from '#core/talkers/talker-levels.ts';
import { mergeTalkers, newTalkerSketch, sketchOf, type TalkerSketch } from '#core/talkers/talker-sketch.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import {
  freshTalkerSteps,
  readTalkerSketches,
  removeTalkers,
  settleTalkers,
  writeTalkerSketches,
} from '#store/metrics/talkers.ts';
import { packStored, readStored } from './stored-sketch.ts';

const day = talkerDays.step;
/** How long after its end a step goes to the coarser level, in milliseconds: most of what comes late has come by then. */
const patience = 120_000;
/** Most steps in one round. */
const mostSteps = 2_000;
/** How many days someone may be out of a ranking and still be in it since before, in milliseconds. */
const away = 7 * day;

const rollUps: readonly { readonly from: TalkerLevel; readonly to: TalkerLevel }[] = [
  { from: fiveMinutes, to: talkerHours },
  { from: talkerHours, to: talkerDays },
];

/**
 * Keeps the coarser levels up with the finer ones: a coarser step of which a finer one is over and has changed is made anew
 * of all its finer ones, so that it is what they are however often and late they change.
 */
export async function rollUpTalkers(database: Database, lease: Lease, now: number): Promise<void> {
  for (const { from, to } of rollUps) {
    const due = await freshTalkerSteps(database.db, from.level, now - from.step - patience, mostSteps);
    const steps = new Map(due.map(({ ranking, start }) => [`${ranking} ${stepStart(to, start)}`, { ranking, start }]));
    for (const { ranking, start } of steps.values())
      await database.db.transaction(async (tx) => {
        await guardLease(tx, lease);
        await rollUpStep(tx, ranking, from, to, stepStart(to, start));
      });
  }
}

async function rollUpStep(
  tx: Queryable,
  ranking: number,
  from: TalkerLevel,
  to: TalkerLevel,
  start: number,
): Promise<void> {
  const range = { ranking, level: from.level, from: start, to: start + to.step };
  const rows = await readTalkerSketches(tx, range);
  const sketch = newTalkerSketch(to.most);
  const since = new Map<string, number>();
  for (const row of rows) {
    const read = readStored(row.data, row.start);
    mergeTalkers(sketch, sketchOf(read));
    for (const id of read.ids) since.set(id, Math.min(row.start, since.get(id) ?? row.start));
  }
  if (to === talkerDays) await goOnSince(tx, ranking, start, since);
  const whole: TalkerSketch = to === talkerDays ? { ...sketch, since } : sketch;
  await writeTalkerSketches(tx, [
    {
      ...{ ranking, level: to.level, start, part: 0, fresh: to !== talkerDays },
      data: packStored(whole, start),
    },
  ]);
  await settleTalkers(tx, range);
}

/** Who was in the ranking in the week before is in it since then. */
async function goOnSince(tx: Queryable, ranking: number, start: number, since: Map<string, number>): Promise<void> {
  const before = await readTalkerSketches(tx, { ranking, level: talkerDays.level, from: start - away, to: start });
  for (const row of before) {
    const read = readStored(row.data, row.start);
    read.ids.forEach((id, i) => {
      const known = since.get(id);
      if (known !== undefined) since.set(id, Math.min(known, read.since?.[i] ?? row.start));
    });
  }
}

/** Lets go what is kept no longer; a day later than it is asked for, so that what is late finds all that it belongs to. */
export async function expireTalkers(database: Database, now: number): Promise<void> {
  for (const level of talkerLevels) await removeTalkers(database.db, level.level, talkersKeptFrom(level, now) - day);
}
