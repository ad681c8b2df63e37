import { unpackTalkerDeltas } from '#core/talkers/talker-delta.ts';
import { fiveMinutes, stepStart, type TalkerLevel, talkerDays, talkerLevelAt } from '#core/talkers/talker-levels.ts';
import { mergeTalkers, newTalkerSketch, sketchOf, type TalkerSketch } from '#core/talkers/talker-sketch.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database, Queryable } from '#store/database.ts';
import {
  lockTalkerSketches,
  rankingNumber,
  readTalkerDeltas,
  removeTalkerDeltas,
  writeTalkerSketches,
} from '#store/metrics/talkers.ts';
import { packStored, readStored } from './stored-sketch.ts';

/** Most groups whose talkers are put where they belong in one transaction. */
const groupsAtOnce = 100;

/**
 * Puts what groups of events brought for rankings into the sketches of their steps, each once: in the transaction that
 * forgets it. Only the holder of the lease does it. Returns of how many groups.
 */
export async function foldTalkers(database: Database, lease: Lease, now: number): Promise<number> {
  let folded = 0;
  for (let more = true; more; ) {
    const read = await database.db.transaction((tx) => foldSome(tx, lease, now));
    folded += read;
    more = read === groupsAtOnce;
  }
  return folded;
}

/** What came of a ranking for the steps of a level. */
interface Gathered {
  readonly ranking: string;
  readonly counts: string;
  readonly level: TalkerLevel;
  readonly byStart: Map<number, TalkerSketch>;
}

async function foldSome(tx: Queryable, lease: Lease, now: number): Promise<number> {
  await guardLease(tx, lease);
  const groups = await readTalkerDeltas(tx, groupsAtOnce);
  if (groups.length === 0) return 0;
  for (const gathered of gather(
    groups.map(({ data }) => data),
    now,
  ))
    await mergeIntoStore(tx, gathered);
  await removeTalkerDeltas(
    tx,
    groups.map(({ id }) => id),
  );
  return groups.length;
}

function gather(packed: readonly Uint8Array[], now: number): readonly Gathered[] {
  const all = new Map<string, Gathered>();
  for (const { ranking, counts, slots } of packed.flatMap((data) => unpackTalkerDeltas(data)))
    for (const { start: from, talkers } of slots) {
      const level = talkerLevelAt(from, now);
      if (!level) continue;
      const id = `${level.level} ${ranking} ${counts}`;
      let gathered = all.get(id);
      if (!gathered) all.set(id, (gathered = { ranking, counts, level, byStart: new Map() }));
      const start = stepStart(level, from);
      let sketch = gathered.byStart.get(start);
      if (!sketch) gathered.byStart.set(start, (sketch = newTalkerSketch(level.most)));
      mergeTalkers(sketch, sketchOf(talkers));
    }
  return [...all.values()];
}

async function mergeIntoStore(tx: Queryable, { ranking, counts, level, byStart }: Gathered): Promise<void> {
  const number = await rankingNumber(tx, ranking, counts);
  // What is too late for the finest level is a part of its own: the other part is made of the finer one ever anew.
  const part = level === fiveMinutes ? 0 : 1;
  const place = { ranking: number, level: level.level, part };
  const stored = await lockTalkerSketches(tx, place, [...byStart.keys()]);
  const dataOf = new Map(stored.map(({ start, data }) => [start, data]));
  await writeTalkerSketches(
    tx,
    [...byStart].map(([start, sketch]) => {
      const data = dataOf.get(start);
      if (data) mergeTalkers(sketch, sketchOf(readStored(data, start)));
      return { ...place, start, fresh: level !== talkerDays, data: packStored(sketch, start) };
    }),
  );
}
