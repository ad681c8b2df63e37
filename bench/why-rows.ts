import type { WhyAnswer } from '../core/answers/why.ts';
import { day, hour, minute } from '../core/events/time-units.ts';
import { plantedChanges } from '../core/why/testing/planted.ts';
import { type Planted, type Request, requests } from '../core/why/testing/traffic.ts';
import { send, startEngine, type TestEngine } from '../engine/testing/engine.ts';
import { shareOver } from './calmed-down.ts';
import type { Row } from './measure.ts';
import { settled } from './settled.ts';

const days = 14;
const now = Math.floor(Date.now() / minute) * minute - 10 * minute;
/** Midnight, because some changes begin at night. */
const from = Math.floor(now / day) * day - days * day;
/** Each source has three changes on different days. */
const sources = 20;
const perMinute = 10_000_000 / sources / (days * 24 * 60);
/** How long a change lasts, and how much of it the window covers. */
const lasts = 12 * hour;
const seen = 10 * hour;
/** Correct answers wanted out of sixty. */
const wanted = 54;
/** Longest answer over all events with nothing cached (milliseconds). */
const within = 2_000;
const coldTurns = 3;
/** Longest first answer, from the ledger alone (milliseconds). */
const ledgerWithin = 500;
/** An engine below this fraction of a core has finished starting. */
const calm = 0.15;

/** A change that ends after a while. */
function over(planted: Planted): Planted {
  const until = planted.at + lasts;
  const { rate, more, alter } = planted;
  return {
    ...planted,
    ...(rate && { rate: (time: number) => (time < until ? rate(time) : 1) }),
    ...(more && { more: (time: number) => (time < until ? more(time) : 0) }),
    ...(alter && {
      alter: (request: Request, random: () => number) => request.time >= until || alter(request, random),
    }),
  };
}

/** Several consecutive changes in one source. */
function together(planted: readonly Planted[]): Planted {
  const at = (time: number): Planted | undefined => planted.findLast((one) => one.at <= time);
  return {
    ...(planted[0] as Planted),
    rate: (time) => at(time)?.rate?.(time) ?? 1,
    more: (time) => at(time)?.more?.(time) ?? 0,
    alter: (request, random) => at(request.time)?.alter?.(request, random) ?? true,
    moreAre: (request, random) => at(request.time)?.moreAre?.(request, random),
  };
}

const plants = plantedChanges(
  (index) => from + (8 + 2 * (index % 3)) * day + ((index * 7) % 22) * hour + ((index * 13) % 60) * minute,
).map(over);

function lineOf({ time, ...fields }: Request): string {
  return JSON.stringify({ time: new Date(time).toISOString(), message: 'request', ...fields });
}

async function load(engine: TestEngine, source: number): Promise<void> {
  const own = plants.filter((_, index) => Math.floor(index / 3) === source);
  let lines: string[] = [];
  const sendLines = async (): Promise<void> => {
    const headers = { 'otter-backfill': new Date(from).toISOString() };
    const answer = await send(engine, `service-${source}`, lines.join('\n'), headers);
    if (!answer.ok) throw new Error(await answer.text());
    lines = [];
  };
  for (const request of requests(source + 1, { from, to: now }, perMinute, together(own))) {
    lines.push(lineOf(request));
    if (lines.length === 20_000) await sendLines();
  }
  await sendLines();
}

async function ask(engine: TestEngine, index: number): Promise<WhyAnswer> {
  const { at, measure } = plants[index] as Planted;
  const window = { from: at - (5 + (index % 7)) * hour, to: Math.min(at + seen, now) };
  return await engine.ask<WhyAnswer>('why', {
    condition: `source = service-${Math.floor(index / 3)}`,
    measure,
    ...window,
  });
}

/** Restarts the engine: its threads are compiled, some seconds after the start, but no segment is open. */
async function calmAfterRestart(engine: TestEngine): Promise<void> {
  await engine.kill();
  await engine.restart();
  await shareOver(engine.pid(), 6_000);
  while ((await shareOver(engine.pid(), 2_000)) > calm);
}

function isCauseFirst({ rows }: WhyAnswer, { causes }: Planted): boolean {
  const where = (values: readonly string[]): string => [...values].sort().join(', ');
  const first = rows[0] && where(rows[0].where.map(({ field, value }) => `${field} = ${value}`));
  if (causes.length === 0) return first === undefined;
  return causes.some((cause) => where(Object.entries(cause).map(([field, value]) => `${field} = ${value}`)) === first);
}

function hasBegun({ began }: WhyAnswer, { at, isChange }: Planted): boolean {
  return isChange ? began !== undefined && Math.abs(began - at) <= 3 * minute : began === undefined;
}

/** Explains sixty planted changes: how many causes and minutes are right, and how long that takes over ten million events. */
export async function whyRows(mariadb: string, say: (text: string) => void): Promise<readonly Row[]> {
  const engine = await startEngine(mariadb);
  try {
    await engine.publish({ plan: 1, pipelines: [], tiers: [{ id: 'rest', title: 'Rest', keep: '60d' }] });
    for (let source = 0; source < sources; source++) await engine.source(`service-${source}`);
    let next = 0;
    const lane = async (): Promise<void> => {
      for (let source = next++; source < sources; source = next++) await load(engine, source);
    };
    await Promise.all([lane(), lane()]);
    await settled(engine);
    const window = { from: now - 2 * day, to: now };
    const cold: number[] = [];
    const fromLedger: number[] = [];
    for (let turn = 0; turn < coldTurns; turn++) {
      await calmAfterRestart(engine);
      const begun = performance.now();
      await engine.ask('why', { condition: '', ...window });
      cold.push(performance.now() - begun);
      await calmAfterRestart(engine);
      // The first answer of those that come line by line.
      const [first] = await engine.askInLines<WhyAnswer>('why', { condition: '', ...window });
      if (first?.basis !== 'ledger') throw new Error(`The first answer is from ${first?.basis}.`);
      fromLedger.push(first.tookMs);
    }
    const right = { cause: 0, began: 0 };
    const took: number[] = [];
    for (const [index, planted] of plants.entries()) {
      const answer = await ask(engine, index);
      const [isCause, isBegun] = [isCauseFirst(answer, planted), hasBegun(answer, planted)];
      if (isCause) right.cause++;
      if (isBegun) right.began++;
      took.push(answer.tookMs);
      if (!isCause || !isBegun) {
        const first =
          answer.rows[0]?.where.map(({ field, value }) => `${field} = ${value}`).join(', ') ?? answer.verdict;
        const off = answer.began === undefined ? 'none' : `${(answer.began - planted.at) / minute} min off`;
        say(`  ${index} ${planted.title}, ${planted.measure}: ${first}; ${answer.form}, ${off}`);
      }
    }
    const [median, first] = [cold, fromLedger].map((turns) => turns.toSorted((a, b) => a - b)[coldTurns >> 1]) as [
      number,
      number,
    ];
    const most = Math.max(...took);
    return [
      row('why: the cause comes first, of 60 changes', right.cause, wanted),
      row('why: it began within 3 minutes, of 60 changes', right.began, wanted),
      { ...row('why over ten million events, nothing cached', median, within), ratio: within / median },
      { ...row('why from the ledger alone, nothing cached', first, ledgerWithin), ratio: ledgerWithin / first },
      { ...row('why: the slowest of 60 answers', most, within), ratio: within / most },
    ];
  } finally {
    await engine.stop();
  }
}

function row(id: string, ours: number, peer: number): Row {
  return { id, ours, peer, ratio: ours / peer, floor: 1 };
}
