import { labelsId, labelsOfId } from '#core/metrics/labels.ts';
import { finerThan, stepStart, type TalkerLevel, talkerDays } from '#core/talkers/talker-levels.ts';
import type { ReadTalkers } from '#core/talkers/talker-sketch.ts';
import { TalkerBuilder, type TalkerQuestion, type TalkerTable } from '#core/talkers/talker-table.ts';
import type { Lease } from '#store/cluster/leases.ts';
import { freshTalkerStarts, readTalkerSketches } from '#store/metrics/talkers.ts';
import { retryRead } from '#store/retry-read.ts';
import { readStored } from '../../talkers/stored-sketch.ts';
import { foldTalkers } from '../../talkers/talker-folding.ts';
import { rollUpTalkers } from '../../talkers/talker-roll-ups.ts';
import { currentShape } from '../shapes.ts';
import { workerDatabase } from '../worker-database.ts';

/** A ranking that is to be read over a window. */
export interface TalkersTask extends TalkerQuestion {
  readonly kind: 'talkers';
  /** The number of the stored ranking. */
  readonly ranking: number;
  /** The place of the shape among its keys; −1: it is not by shape. */
  readonly shapeKey: number;
}

/** What is to be done with what groups brought, by the holder of a lease. */
export interface TalkerRoundTask {
  readonly kind: 'talkerRound';
  readonly lease: Lease;
  readonly now: number;
  /** To put it into its steps, or to give those that are over to coarser levels. */
  readonly work: 'fold' | 'roll up';
}

/** Does a round of work on what groups brought for rankings; whether there was any. */
export async function talkerRound({ lease, now, work }: TalkerRoundTask): Promise<boolean> {
  if (work === 'fold') return (await foldTalkers(workerDatabase(), lease, now)) > 0;
  await rollUpTalkers(workerDatabase(), lease, now);
  return true;
}

/** Reads a ranking in a window. */
export async function talkers({ ranking, shapeKey, ...question }: TalkersTask): Promise<TalkerTable> {
  const builder = new TalkerBuilder(question);
  const { window } = question;
  const { level } = window;
  const isByDay = level.level === talkerDays.level;
  // The days at the end of the window say since when someone is there.
  const lastDays = stepStart(talkerDays, window.to) - sinceDays * talkerDays.step;
  const [steps, days] = await Promise.all([
    sketchesOf(ranking, level, window.from, window.to),
    isByDay || !question.hasSince ? [] : stored(ranking, talkerDays, lastDays, window.to),
  ]);
  const current = (read: ReadTalkers): ReadTalkers => (shapeKey < 0 ? read : ofCurrentShapes(read, shapeKey));
  for (const { start, talkers: stored } of steps) {
    const read = current(stored);
    builder.add(start, read);
    if (isByDay && start >= lastDays) builder.addSince(start, read);
  }
  for (const { start, talkers: read } of days) builder.addSince(start, current(read));
  return builder.table();
}

/** With shapes under the ids that they go under now. */
function ofCurrentShapes(read: ReadTalkers, shapeKey: number): ReadTalkers {
  const ids = read.ids.map((id) => {
    const labels = labelsOfId(id);
    return labelsId(
      labels.map((value, i) => (i === shapeKey && typeof value === 'string' ? currentShape(value) : value)),
    );
  });
  return { ...read, ids };
}

/** Days that are looked at for since when someone is in a ranking. */
const sinceDays = 7;

interface Step {
  readonly start: number;
  readonly part: number;
  readonly talkers: ReadTalkers;
}

/** The sketches of a level; of steps that are not made of all their finer ones yet, those. */
async function sketchesOf(ranking: number, level: TalkerLevel, from: number, to: number): Promise<readonly Step[]> {
  const [steps, stale] = await Promise.all([stored(ranking, level, from, to), staleSteps(ranking, level, from, to)]);
  const finer = finerThan(level);
  if (!finer || stale.size === 0) return steps;
  const anew = await Promise.all([...stale].map((start) => sketchesOf(ranking, finer, start, start + level.step)));
  return [...steps.filter(({ start, part }) => part === 1 || !stale.has(start)), ...anew.flat()];
}

/** Steps of a level of which a finer one changed since they were made. */
async function staleSteps(ranking: number, level: TalkerLevel, from: number, to: number): Promise<ReadonlySet<number>> {
  const { db } = workerDatabase();
  const starts = new Set<number>();
  for (let finer = finerThan(level); finer; finer = finerThan(finer)) {
    const range = { ranking, level: finer.level, from, to };
    for (const start of await retryRead(() => freshTalkerStarts(db, range))) starts.add(stepStart(level, start));
  }
  return starts;
}

async function stored(ranking: number, level: TalkerLevel, from: number, to: number): Promise<readonly Step[]> {
  const { db } = workerDatabase();
  const rows = await retryRead(() => readTalkerSketches(db, { ranking, level: level.level, from, to }));
  return rows.map(({ start, part, data }) => ({ start, part, talkers: readStored(data, start) }));
}
