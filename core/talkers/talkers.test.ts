import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { RankingAnswer } from '../answers/rankings.ts';
import { conditionOf } from '../conditions/condition.ts';
import { NumberReader, NumberWriter } from '../events/number-bytes.ts';
import { encode } from '../events/text-table.ts';
import { day, hour } from '../events/time-units.ts';
import { type LabelValue, labelsId, labelsOfId, theRest } from '../metrics/labels.ts';
import { compileRanking } from '../plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '../plan/parts/rankings/rankings-shape.ts';
import { seededRandom } from '../routing/route.ts';
import { groupRows } from '../summaries/group-rows.ts';
import { batchOf } from '../testing/batch-of.ts';
import { talkersCsv } from '../views/talkers-csv.ts';
import { RankedBatch } from './ranked-batch.ts';
import { countersOfGroup, TalkerAccumulator } from './talker-accumulator.ts';
import { conditionOfTalker, conditionWithout } from './talker-condition.ts';
import { packTalkerDeltas, unpackTalkerDeltas } from './talker-delta.ts';
import {
  fiveMinutes,
  type TalkerLevel,
  talkerDays,
  talkerHours,
  talkerLevelAt,
  talkersKeptFrom,
  talkerWindow,
} from './talker-levels.ts';
import {
  addTalkers,
  mergeTalkers,
  newTalkerSketch,
  packTalkers,
  readTalkers,
  sketchOf,
  type TalkerSketch,
} from './talker-sketch.ts';
import { TalkerBuilder, type TalkerQuestion, type TalkerTable } from './talker-table.ts';

/** A sketch as it comes back from the store. */
function stored(sketch: TalkerSketch, start = 0): ReturnType<typeof readTalkers> {
  const writer = new NumberWriter();
  packTalkers(writer, sketch, start);
  return readTalkers(new NumberReader(writer.bytes()), start);
}

/** Adds what one contributed. */
function addTalker(sketch: TalkerSketch, id: string, amount: number): void {
  const hash = encode(id).reduce((sum, byte) => Math.imul(sum ^ byte, 0x01000193), 7);
  addTalkers(sketch, Float64Array.of(amount), { idOf: () => id, hashOf: () => hash });
}

/** Draws numbers from 0 up to, not including, `keys`, the first the most often (Zipf's law with exponent 1). */
function zipf(keys: number, random: () => number): () => number {
  const sums = new Float64Array(keys);
  let sum = 0;
  for (let i = 0; i < keys; i++) sums[i] = sum += 1 / (i + 1);
  return () => {
    const wanted = random() * sum;
    let [low, high] = [0, keys - 1];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((sums[middle] as number) < wanted) low = middle + 1;
      else high = middle;
    }
    return low;
  };
}

/** Draws events into sketches of a level, by two engines that share the steps, and counts them exactly beside. */
function drawn(level: TalkerLevel, events: number, draw: () => number, counts: Int32Array): TalkerSketch {
  const engines = [newTalkerSketch(countersOfGroup), newTalkerSketch(countersOfGroup)];
  for (let i = 0; i < events; i++) {
    const key = draw();
    counts[key] = (counts[key] as number) + 1;
    addTalker(engines[i & 1] as TalkerSketch, `c${key}`, 1);
  }
  const sketch = newTalkerSketch(level.most);
  for (const engine of engines) mergeTalkers(sketch, sketchOf(stored(engine)));
  return sketch;
}

/** How many of the true first twenty are among the first twenty of a ranking; and whether amounts are within their bounds. */
function judged(table: TalkerTable, counts: Int32Array): { readonly recall: number; readonly outOfBounds: number } {
  const first = [...counts.keys()].sort((a, b) => (counts[b] as number) - (counts[a] as number)).slice(0, 20);
  const reported = new Set(table.lines.slice(0, 20).map(({ id }) => id));
  const outOfBounds = table.lines.filter(({ id, amount }) => {
    const count = counts[Number(id.slice(1))] as number;
    return amount > count || amount + table.missed < count;
  });
  return { recall: first.filter((key) => reported.has(`c${key}`)).length / 20, outOfBounds: outOfBounds.length };
}

const question = (window: TalkerQuestion['window'], more: Partial<TalkerQuestion> = {}): TalkerQuestion => ({
  ...{ window, most: 100, at: undefined, without: [], hasSince: true },
  ...more,
});

describe('traffic of a million keys', () => {
  test('the first twenty of a day are found, of two engines and by five minutes', () => {
    const counts = new Int32Array(1_000_000);
    const draw = zipf(counts.length, seededRandom(7));
    const builder = new TalkerBuilder(question({ from: 0, to: day / 4, level: fiveMinutes }));
    for (let start = 0; start < day / 4; start += fiveMinutes.step)
      builder.add(start, stored(drawn(fiveMinutes, 15_000, draw, counts)));
    const table = builder.table();
    const { recall, outOfBounds } = judged(table, counts);
    expect(recall).toBeGreaterThanOrEqual(0.95);
    expect(outOfBounds).toBe(0);
    expect(table.missed).toBeLessThanOrEqual(table.total / (countersOfGroup + 1));
    const distinct = counts.reduce((sum, count) => sum + Math.min(1, count), 0);
    expect(Math.abs(table.distinct / distinct - 1)).toBeLessThan(0.06);
    expect(table.total).toBe(72 * 15_000);
  }, 60_000);

  test('the first twenty of 90 days are found, put together from hours', () => {
    const counts = new Int32Array(1_000_000);
    const draw = zipf(counts.length, seededRandom(11));
    const builder = new TalkerBuilder(question({ from: 0, to: 90 * day, level: talkerDays }));
    for (let start = 0; start < 90 * day; start += day) {
      const sketch = newTalkerSketch(talkerDays.most);
      for (let part = 0; part < 3; part++) mergeTalkers(sketch, drawn(talkerHours, 4_000, draw, counts));
      builder.add(start, stored(sketch, start));
    }
    const table = builder.table();
    const { recall, outOfBounds } = judged(table, counts);
    expect(recall).toBeGreaterThanOrEqual(0.95);
    expect(outOfBounds).toBe(0);
    expect(table.missed).toBeLessThanOrEqual(table.total / (countersOfGroup + 1));
  }, 60_000);
});

describe('sketches', () => {
  const additions = fc.array(fc.tuple(fc.integer({ min: 0, max: 60 }), fc.integer({ min: 1, max: 1_000 })), {
    maxLength: 300,
  });

  test('amounts lie within their bounds however they are put together', () => {
    fc.assert(
      fc.property(
        fc.array(additions, { minLength: 1, maxLength: 5 }),
        fc.integer({ min: 1, max: 20 }),
        (lists, most) => {
          const counts = new Map<string, number>();
          const all = newTalkerSketch(most);
          for (const list of lists) {
            const one = newTalkerSketch(most);
            for (const [key, amount] of list) {
              addTalker(one, `k${key}`, amount);
              counts.set(`k${key}`, (counts.get(`k${key}`) ?? 0) + amount);
            }
            mergeTalkers(all, sketchOf(stored(one)));
          }
          const { ids, counts: amounts, missed, total } = stored(all);
          expect(total).toBe([...counts.values()].reduce((sum, count) => sum + count, 0));
          expect(missed).toBeLessThanOrEqual(total / (most + 1));
          const reported = new Map(ids.map((id, i) => [id, amounts[i] as number]));
          for (const [id, count] of counts) {
            expect(reported.get(id) ?? 0).toBeLessThanOrEqual(count);
            expect((reported.get(id) ?? 0) + missed).toBeGreaterThanOrEqual(count);
          }
        },
      ),
    );
  });

  test('come back from the store as they were', () => {
    const sketch = newTalkerSketch(50);
    for (let i = 0; i < 40; i++) addTalker(sketch, labelsId([`värde ${i}`, null]), i + 0.25);
    const since = new Map([[labelsId(['värde 3', null]), 50 * day - hour]]);
    const back = sketchOf(stored({ ...sketch, since }, 50 * day));
    expect(new Map([...back.frequent.counts].sort())).toEqual(new Map([...sketch.frequent.counts].sort()));
    expect(back.distinct).toEqual(sketch.distinct);
    expect(back.since?.get(labelsId(['värde 3', null]))).toBe(50 * day - hour);
    expect(back.since?.get(labelsId(['värde 4', null]))).toBe(50 * day);
  });

  test('what is cut short or empty is read as nothing more than it is', () => {
    const writer = new NumberWriter();
    packTalkers(writer, newTalkerSketch(5), 0);
    expect(readTalkers(new NumberReader(writer.bytes()), 0).ids).toEqual([]);
  });
});

test('labels and their ids belong to each other, whatever is in the values', () => {
  const value = fc.oneof(fc.string(), fc.constant(null), fc.constant<LabelValue>(theRest), fc.constant('3:n'));
  fc.assert(
    fc.property(fc.array(value, { maxLength: 4 }), (labels) => {
      expect(labelsOfId(labelsId(labels))).toEqual(labels);
    }),
  );
});

describe('events', () => {
  const now = Date.now();
  const ranking: RankingDocument = { id: 'r', title: 'R', when: '', by: ['gate'], measure: 'events' };

  /** What a ranking makes of events, through the store. */
  function reported(of: Partial<RankingDocument>, events: readonly object[], weights?: readonly number[]) {
    const accumulator = new TalkerAccumulator(compileRanking({ ...ranking, ...of }));
    const batch = batchOf(events, 'pier');
    const weight = weights ? Float32Array.from(weights) : batch.weight;
    accumulator.add(new RankedBatch({ ...batch, weight, time: batch.time.map(() => now) }, { now }));
    const [read] = unpackTalkerDeltas(packTalkerDeltas([accumulator]));
    return (read?.slots ?? []).flatMap(({ talkers: { ids, counts } }) =>
      ids.map((id, i) => [...labelsOfId(id), counts[i]]),
    );
  }

  const events = [{ gate: 'north', n: 5 }, { gate: 'north', n: -2 }, { gate: 'south', n: 1 }, { n: 20 }];

  test('are ranked by how many they are, by what senders that sampled stood for', () => {
    expect(reported({}, events)).toEqual([
      ['north', 2],
      ['south', 1],
      [null, 1],
    ]);
    expect(reported({}, events, [1, 1, 10, 1])[0]).toEqual(['south', 10]);
  });

  test('are ranked by bytes, by a sum of which what is below zero is no part, and by several keys', () => {
    expect(reported({ measure: 'bytes' }, events)[0]).toEqual(['north', '{"gate":"north","n":5}'.length * 2 + 1]);
    expect(reported({ measure: 'sum', of: 'n' }, events)).toEqual([
      [null, 20],
      ['north', 5],
      ['south', 1],
    ]);
    expect(reported({ measure: 'sum', of: 'nothing' }, events)).toEqual([]);
    expect(reported({ by: ['source', 'gate', 'n'], when: 'has gate' }, events)).toHaveLength(3);
    expect(reported({ by: ['source', 'gate', 'n'], when: 'has gate' }, events)[0]?.slice(0, 2)).toEqual([
      'pier',
      'north',
    ]);
  });

  test('with very long values stay apart by how these begin', () => {
    const [line] = reported({}, [{ gate: 'x'.repeat(5_000) }, { gate: `${'x'.repeat(4_000)}y` }]);
    expect(String(line?.[0]).length).toBeLessThanOrEqual(200);
    expect(line?.[1]).toBe(2);
  });

  test('that are old go to coarser steps, and those that are too old nowhere', () => {
    const accumulator = new TalkerAccumulator(compileRanking(ranking));
    const batch = batchOf(Array.from({ length: 4 }, () => ({ gate: 'north' })));
    const ages = [hour, 20 * day, 200 * day, 800 * day];
    const old = { ...batch, time: Float64Array.from(ages, (age) => now - age) };
    accumulator.add(new RankedBatch(old, { now }));
    expect(accumulator.slots.map(({ level }) => level)).toEqual([fiveMinutes, talkerHours, talkerDays]);
    accumulator.add(new RankedBatch(old, { now }, now - 2 * hour));
    expect(accumulator.slots.map(({ sketch }) => sketch.frequent.total)).toEqual([2, 1, 1]);
  });
});

describe('a ranking over a window', () => {
  const step = fiveMinutes.step;
  const window = { from: 0, to: 4 * step, level: fiveMinutes };
  const sketches = [
    [0, { a: 5, b: 1 }],
    [step, { a: 5, c: 7 }],
    [3 * step, { b: 2 }],
  ] as const;

  function table(more: Partial<TalkerQuestion> = {}): TalkerTable {
    const builder = new TalkerBuilder(question(window, more));
    for (const [start, amounts] of sketches) {
      const sketch = newTalkerSketch(5);
      for (const [id, amount] of Object.entries(amounts)) addTalker(sketch, id, amount);
      builder.add(start, stored(sketch));
    }
    builder.add(40 * step, stored(newTalkerSketch(5)));
    return builder.table();
  }

  test('tells who contributed most, in all and by step', () => {
    const { lines, total, totals, distinct, missed } = table();
    expect(lines.map(({ id, amount }) => [id, amount])).toEqual([
      ['a', 10],
      ['c', 7],
      ['b', 3],
    ]);
    expect(lines[2]?.values).toEqual([1, 0, 0, 2]);
    expect([total, totals, distinct, missed]).toEqual([20, [6, 12, 0, 2], 3, 0]);
  });

  test('leaves out who is not wanted, from lines and totals', () => {
    const { lines, total, totals, distinct, leftOut } = table({ without: ['a', 'nobody'] });
    expect(lines.map(({ id }) => id)).toEqual(['c', 'b']);
    expect([total, totals, distinct, leftOut]).toEqual([10, [1, 7, 0, 2], 2, 10]);
  });

  test('is ranked by one step', () => {
    const { lines, total } = table({ at: 3 * step });
    expect(lines.map(({ id, amount }) => [id, amount])).toEqual([['b', 2]]);
    expect(lines[0]?.values).toEqual([1, 0, 0, 2]);
    expect(total).toBe(2);
    expect(table({ at: 2 * step }).lines).toEqual([]);
  });

  test('has since when someone is in it from the days, else from its own steps', () => {
    const builder = new TalkerBuilder(question(window));
    const sketch = newTalkerSketch(5);
    addTalker(sketch, 'a', 1);
    addTalker(sketch, 'b', 1);
    builder.add(step, stored(sketch));
    const days = newTalkerSketch(5);
    addTalker(days, 'a', 1);
    builder.addSince(0, stored({ ...days, since: new Map([['a', -3 * day]]) }));
    const sinceOf = Object.fromEntries(builder.table().lines.map(({ id, since }) => [id, since]));
    expect(sinceOf).toEqual({ a: -3 * day, b: step });
  });
});

test('a window is shown as finely as its beginning is kept', () => {
  const now = Date.now();
  const level = (from: number, to = 0) => talkerWindow(now - from * day, now - to * day, now).level;
  expect([level(0.1), level(1), level(7), level(30), level(456)]).toEqual([
    fiveMinutes,
    fiveMinutes,
    talkerHours,
    talkerDays,
    talkerDays,
  ]);
  expect(level(20, 19.9)).toBe(talkerHours);
  expect(level(100, 99.9)).toBe(talkerDays);
  expect(talkerLevelAt(now - 500 * day, now)).toBeUndefined();
  const far = talkerWindow(0, now, now);
  expect(far.from).toBe(talkersKeptFrom(talkerDays, now));
});

describe('conditions', () => {
  const by = ['status', 'client', 'constructor'];

  test('pick what someone contributes, or leave it out, whatever the values are', () => {
    const events = [
      { status: 500, client: 'a "b"', constructor: 'x' },
      { status: 500, client: 'not', constructor: 'x' },
      { status: 200, constructor: 'x' },
    ];
    const batch = batchOf(events);
    const rows = (text: string): readonly number[] => [...conditionOf(text).test(batch, { now: 0 })];
    expect(rows(conditionOfTalker('', by, ['500', 'a "b"', 'x']))).toEqual([1, 0, 0]);
    expect(rows(conditionOfTalker('status >= 200 or has client', by, ['200', null, 'x']))).toEqual([0, 0, 1]);
    expect(rows(conditionWithout('', by, [['500', 'not', 'x']]))).toEqual([1, 0, 1]);
    expect(rows(conditionWithout('has status', ['client'], [[null], ['not']]))).toEqual([1, 0, 0]);
    expect(conditionWithout('has a', by, [])).toBe('has a');
  });
});

test('as CSV a ranking has its bounds and its steps', () => {
  const answer: RankingAnswer = {
    ...{ id: 'r', title: 'R', when: '', by: ['gate', 'pier'], measure: 'events', of: '' },
    ...{ from: 0, to: 2 * hour, every: hour, isRunning: false, at: null, total: 7, leftOut: 0, totals: [5, 2] },
    ...{ missed: 1, distinct: 2, without: [] },
    talkers: [
      { labels: ['north, old', null], name: '', amount: 5, share: 5 / 7, values: [3, 2], since: hour },
      { labels: ['=1+1', 'b'], name: '', amount: 2, share: 2 / 7, values: [2, 0], since: null },
    ],
  };
  const [head, first, second] = talkersCsv(answer).split('\r\n');
  expect(head).toBe('place,gate,pier,at least,at most,share,since,1970-01-01T00:00:00.000Z,1970-01-01T01:00:00.000Z');
  expect(first).toBe(`1,"north, old",,5,6,${5 / 7},1970-01-01T01:00:00.000Z,3,2`);
  expect(second).toMatch(/^2,.*1\+1.*,b,2,3,/);
});

test('events of a batch count the same whatever order and mixture they come in', () => {
  const now = Date.now();
  const random = seededRandom(9);
  const events = Array.from({ length: 3_000 }, (_, i) => ({
    n: Math.floor(random() * 5),
    name: random() < 0.5 ? `v${Math.floor(1_000 ** random())}` : undefined,
    took: random() < 0.1 ? 'long' : Math.floor(random() * 900) / 8,
    wide: i * 97_001,
    flag: random() < 0.3,
  }));
  const batch = batchOf(events);
  const time = Float64Array.from(events, () => now - Math.floor(random() * 30) * 200_000);
  for (const by of [['n'], ['name'], ['took', 'flag'], ['wide'], ['name', 'wide', 'n'], ['source', 'nothing']]) {
    const accumulator = new TalkerAccumulator(
      compileRanking({ id: 'r', title: 'R', when: 'n < 4', by, measure: 'sum', of: 'n' }),
    );
    accumulator.add(new RankedBatch({ ...batch, time }, { now }));
    const wanted = new Map<string, number>();
    events.forEach((event, row) => {
      if (event.n === 0 || event.n > 3) return;
      const labels = by.map((key) => {
        if (key === 'source') return 'test';
        const value = Object.entries(event).find(([name]) => name === key)?.[1];
        return value === undefined ? null : String(value);
      });
      const start = Math.floor((time[row] as number) / fiveMinutes.step) * fiveMinutes.step;
      const id = `${start} ${labelsId(labels)}`;
      wanted.set(id, (wanted.get(id) ?? 0) + event.n);
    });
    const reported = accumulator.slots.flatMap(({ start, sketch: { frequent } }) =>
      [...frequent.counts].map(([id, amount]) => [`${start} ${id}`, amount] as const),
    );
    expect(accumulator.slots.every(({ sketch }) => sketch.frequent.missed === 0)).toBe(true);
    expect(new Map(reported)).toEqual(wanted);
  }
});

test('four keys of which each event has other values are told apart', () => {
  const now = Date.now();
  const events = Array.from({ length: 20_000 }, (_, i) => ({ a: i, b: `b${i}`, c: i / 7, d: `d${i % 19_999}` }));
  const batch = batchOf(events);
  const ranked = new RankedBatch({ ...batch, time: batch.time.map(() => now) }, { now });
  const ranking = compileRanking({ id: 'r', title: 'R', when: '', by: ['a', 'b', 'c', 'd'], measure: 'events' });
  const [step] = ranked.amountsOf(ranking);
  expect(step?.amounts.length).toBe(20_000);
  expect(step?.valuesOf(12_345)).toEqual(['12345', 'b12345', String(12_345 / 7), 'd12345']);
  const rows = Int32Array.from({ length: 20_000 }, (_, i) => i);
  expect(groupRows(batch, rows, { by: ['a', 'b', 'c', 'd'], every: 0, tier: '' }).keys.length).toBe(20_000);
});

test('numbers that would swallow all others are no part of a sum', () => {
  const now = Date.now();
  const batch = batchOf([{ n: 1e308 }, { n: 1e308 }, { n: 3 }]);
  const accumulator = new TalkerAccumulator(
    compileRanking({ id: 'r', title: 'R', when: '', by: ['source'], measure: 'sum', of: 'n' }),
  );
  accumulator.add(new RankedBatch({ ...batch, time: batch.time.map(() => now) }, { now }));
  expect(accumulator.slots.map(({ sketch }) => sketch.frequent.total)).toEqual([3]);
});
