import type { RankingAnswer } from '../core/answers/rankings.ts';
import { labelsId } from '../core/metrics/labels.ts';
import { firstPlan, type PlanDocument } from '../core/plan/document.ts';
import { countsOf } from '../core/plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '../core/plan/parts/rankings/rankings-shape.ts';
import { seededRandom } from '../core/routing/route.ts';
import { fiveMinutes, type TalkerLevel, talkerDays, talkerHours } from '../core/talkers/talker-levels.ts';
import { addTalkers, newTalkerSketch } from '../core/talkers/talker-sketch.ts';
import { packStored } from '../engine/talkers/stored-sketch.ts';
import { startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { rankingNumber, writeTalkerSketches } from '../store/metrics/talkers.ts';
import { medianTime, type Row } from './measure.ts';
import { planCost } from './plan-cost.ts';

/** Ten rankings beside the ready ones: by few values and by many (3, 300, 900; 90,000, as many as clients may be), by events, bytes and sums. */
const keys: readonly Omit<RankingDocument, 'id' | 'title' | 'when'>[] = [
  { by: ['service'], measure: 'events' },
  { by: ['region'], measure: 'bytes' },
  { by: ['path'], measure: 'events' },
  { by: ['status'], measure: 'events' },
  { by: ['level', 'service'], measure: 'events' },
  { by: ['path', 'status'], measure: 'bytes' },
  { by: ['service', 'region', 'status'], measure: 'bytes' },
  { by: ['path'], measure: 'sum', of: 'bytes' },
  { by: ['region', 'path'], measure: 'events' },
  { by: ['bytes'], measure: 'events' },
];

const ranked: PlanDocument = {
  ...firstPlan,
  rankings: keys.map((of, i) => ({ id: `r${i}`, title: `R${i}`, when: '', ...of })),
};

/** Of which nothing comes: what is read of it was written before. */
const read: RankingDocument = { id: 'r', title: 'R', when: 'source = none', by: ['client'], measure: 'events' };

/** What ten rankings leave of the intake's rate, and how soon windows of one are read. */
export async function talkerRows(mariadb: string): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  try {
    return [
      await planCost(engine, ranked, { id: 'm intake with ten rankings more / without', turns: 60, floor: 0.95 }),
      ...(await windowRows(engine)),
    ];
  } finally {
    await engine.stop();
  }
}

/** Windows of a ranking of a million clients: of a day by five minutes, a week by hours, a month and a year by days. */
async function windowRows(engine: TestEngine): Promise<readonly Row[]> {
  const { db } = engine.database;
  await engine.publish({ ...firstPlan, rankings: [read] });
  const ranking = await rankingNumber(db, read.id, countsOf(read));
  const random = seededRandom(3);
  const now = Date.now();
  let bytes = 0;
  const write = async (level: TalkerLevel, steps: number): Promise<void> => {
    const last = Math.floor(now / level.step) * level.step;
    for (let i = 0; i < steps; i++) {
      const start = last - i * level.step;
      const sketch = newTalkerSketch(level.most);
      for (let k = 0; k < 3 * level.most; k++) {
        const client = Math.floor(1_000_000 ** random());
        addTalkers(sketch, Float64Array.of(1 + Math.floor(10_000 / client)), {
          idOf: () => labelsId([`192.0.2.${client % 256}:${client}`]),
          hashOf: () => client,
        });
      }
      const data = packStored(sketch, start);
      if (level === talkerDays && i < 30) bytes += data.length;
      const row = { ranking, level: level.level, start, part: 0, fresh: false, data };
      await writeTalkerSketches(db, [row]);
    }
  };
  await write(fiveMinutes, 288);
  await write(talkerHours, 168);
  await write(talkerDays, 400);
  const timed = async (from: string): Promise<number> => {
    const ask = () => engine.ask<RankingAnswer>('ranking', { id: read.id, from });
    if ((await ask()).talkers.length !== 100) throw new Error('A hundred talkers are answered.');
    for (let i = 0; i < 5; i++) await ask();
    return await medianTime(15, ask);
  };
  const [aDay, week, month, year] = [
    await timed('-1d'),
    await timed('-7d'),
    await timed('-30d'),
    await timed('-400d'),
  ] as const;
  return [
    { id: 'm 100 ms / a month of a ranking', ours: month, peer: 100, ratio: 100 / month, floor: 1 },
    { id: 'm 300 ms / a day of it by five minutes', ours: aDay, peer: 300, ratio: 300 / aDay, floor: 1 },
    { id: 'm 300 ms / a week of it by hours', ours: week, peer: 300, ratio: 300 / week, floor: 1 },
    { id: 'm 800 ms / 400 days of it', ours: year, peer: 800, ratio: 800 / year, floor: 1 },
    { id: 'm 1 MB / what a month of it takes', ours: bytes, peer: 1e6, ratio: 1e6 / bytes, floor: 1 },
  ];
}
