import type { CostsAnswer } from '../core/answers/costs.ts';
import { dayOf, textOfDay } from '../core/costs/month/calendar.ts';
import { forecastMonths } from '../core/costs/testing/forecast-months.ts';
import { startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { dayChanges, shapeDays, volumeDays } from '../store/volume/schema.ts';
import { medianTime, type Row } from './measure.ts';

const days = 396;
const sources = 200;
const shapes = 2_000;
/** Milliseconds that an answer may take. */
const allowed = 300;
/** Milliseconds for the first one after the engine has started, which reads all days. */
const allowedAtFirst = 10_000;

const book = `
prices: 1
currency: { sign: cr, digits: 2 }
entries:
  - { from: 2020-01-01, received: 320, kept: [{ days: 1, price: 10 }, { days: 30, price: 40 }], stored: 900 }
  - { from: 2026-06-15, received: 310, kept: [{ days: 1, price: 10 }, { days: 30, price: 40 }], stored: 800 }
`;

/** Thirteen months of many sources, by the day: what is kept, what passes, and their shapes. */
async function fill({ database: { db } }: TestEngine, today: number): Promise<void> {
  for (let ago = days; ago >= 2; ago--) {
    const day = today - ago;
    const volume = Array.from({ length: sources }, (_, i) => `source-${i}`).flatMap((source, i) =>
      (['kept', 'passing'] as const).map((outcome) => {
        const tier = outcome === 'kept' ? 'rest' : '';
        const events = 1_000_000 + 1_000 * i + day;
        return { day, source, tier, outcome, events, bytes: 300 * events, stored: 40 * events };
      }),
    );
    const ofShapes = Array.from({ length: shapes }, (_, i) => {
      const of = { day, source: `source-${i % sources}`, tier: 'rest', outcome: 'kept' };
      const events = 90_000 + i;
      return { ...of, shape: String(i).padStart(10, 's'), severity: i % 7, events, bytes: 290 * events };
    });
    await db.insert(volumeDays).values(volume);
    await db.insert(shapeDays).values(ofShapes);
    // The engine may have taken the day up meanwhile.
    const summed = { changes: 1, summed: 1 };
    await db
      .insert(dayChanges)
      .values({ day, ...summed })
      .onDuplicateKeyUpdate({ set: summed });
  }
}

/** How well the end of a month is forecast, and how soon Costs has thirteen months of many sources and shapes. */
export async function costRows(mariadb: string): Promise<readonly Row[]> {
  const { within, months, errorOnDay5 } = forecastMonths();
  const least = Math.min(...within);
  const rows: Row[] = [
    { id: `k months of ${months} that end in the band / 18`, ours: least, peer: 18, ratio: least / 18, floor: 1 },
    {
      id: 'k 6 % / median error of the end on day 5',
      ours: errorOnDay5,
      peer: 0.06,
      ratio: 0.06 / errorOnDay5,
      floor: 1,
    },
  ];
  const engine = await startEngine(mariadb);
  try {
    rows.push(...(await answerRows(engine)));
  } finally {
    await engine.stop();
  }
  return rows;
}

async function answerRows(engine: TestEngine): Promise<readonly Row[]> {
  const rows: Row[] = [];
  const today = dayOf(Date.now());
  await fill(engine, today);
  await engine.ask('savePrices', { text: book });
  const window = { from: textOfDay(today - days), to: textOfDay(today + 1) };
  for (const by of ['source', 'shape', 'source,severity']) {
    const ask = () => engine.ask<CostsAnswer>('costs', { ...window, by, every: 'month' });
    const started = performance.now();
    const { rows: listed } = await ask();
    const first = performance.now() - started;
    if (listed.length < 200) throw new Error('The costs of all are answered.');
    const time = await medianTime(9, ask);
    const id = `k 300 ms / costs of 13 months by ${by}`;
    rows.push({ id, ours: time, peer: allowed, ratio: allowed / time, floor: 1 });
    if (by !== 'source,severity')
      rows.push({
        ...{ id: `k 10 s / the first ones by ${by}`, ours: first, peer: allowedAtFirst },
        ...{ ratio: allowedAtFirst / first, floor: 1 },
      });
  }
  return rows;
}
