import { afterAll, beforeAll, describe, expect, inject, test } from 'vitest';
import type { VolumeAnswer } from '#core/answers/search.ts';
import type { ShapeAnswer, ShapesAnswer, ShapeView } from '#core/answers/shapes.ts';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let first: TestEngine;
let second: TestEngine;

beforeAll(async () => {
  first = await startEngine(inject('mariadb'));
  second = await startEngine(inject('mariadb'), first);
});

afterAll(async () => {
  await second.stop();
  await first.stop();
});

const names = ['Anna', 'Bela', 'Cleo', 'Dora', 'Edna', 'Fina', 'Gerd', 'Hugo', 'Ines', 'Jens', 'Kora', 'Lars'];

/** Asks an engine again until its list of shapes is as wanted, at most half a minute. */
async function shapesOf(
  engine: TestEngine,
  condition: string,
  isWanted: (shapes: readonly ShapeView[]) => boolean,
): Promise<readonly ShapeView[]> {
  for (const end = Date.now() + 30_000; ; ) {
    const { shapes } = await engine.ask<ShapesAnswer>('shapes', { condition });
    if (isWanted(shapes) || Date.now() > end) return shapes;
  }
}

const words = ({ pieces }: ShapeView): string =>
  pieces.map((piece) => (piece.kind === 'text' ? piece.text : `{${piece.name}}`)).join('');

const events = (shapes: readonly ShapeView[]): number => shapes.reduce((sum, shape) => sum + shape.events, 0);

describe('shapes', () => {
  test('that two engines meet apart are the same, and become one where their words vary', async () => {
    await first.source('desk');
    await second.refresh();
    const half = (engine: TestEngine, list: readonly string[]): Promise<unknown> =>
      send(engine, 'desk', list.map((name) => `boat handed over to ${name} at the pier\n`).join(''));
    await Promise.all([half(first, names.slice(0, 8)), half(second, names.slice(4))]);
    const isOne = (shapes: readonly ShapeView[]): boolean => shapes.length === 1 && events(shapes) === 16;
    const [merged, ...others] = await shapesOf(first, 'source = desk', isOne);
    expect(others).toEqual([]);
    expect(merged && words(merged)).toBe('boat handed over to {word} at the pier');
    expect(await shapesOf(second, 'source = desk', isOne)).toEqual([merged]);
    // What was stored under the ids of before is found under the one that they have now.
    const condition = `shape = ${merged?.id}`;
    expect((await second.found({ condition, limit: 0 }, 16)).total).toBe(16);
    const { summary } = await first.search({ condition: 'source = desk', summary: 'count() by shape', limit: 0 });
    expect(summary?.rows).toEqual([[merged?.id, 16]]);
  });

  test('stay the same after a restart, and in a plan; their volume agrees with the ledger', async () => {
    const [before] = await shapesOf(first, 'source = desk', (shapes) => shapes.length === 1);
    await first.kill();
    await first.restart();
    await first.publish({
      plan: 1,
      pipelines: [],
      tiers: [
        {
          id: 'rest',
          title: 'Rest',
          keep: '7d',
          exclusions: [{ id: 'x', title: 'X', when: `shape = ${before?.id}`, keep: 'none' }],
        },
      ],
    });
    await send(first, 'desk', 'boat handed over to Mona at the pier\nboat sunk\n');
    const shapes = await shapesOf(first, 'source = desk', (list) => events(list) === 18);
    const same = shapes.find(({ id }) => id === before?.id);
    expect(same?.events).toBe(17);
    expect(same?.fates).toEqual(
      expect.arrayContaining([expect.objectContaining({ outcome: 'excluded', tier: 'rest', events: 1 })]),
    );
    const { sums } = await first.ask<VolumeAnswer>('volume', { by: 'source,outcome' });
    for (const outcome of ['kept', 'excluded']) {
      const counted = shapes.flatMap(({ fates }) => fates).filter((fate) => fate.outcome === outcome);
      const booked = sums.filter((sum) => sum.source === 'desk' && sum.outcome === outcome);
      for (const part of ['events', 'bytes'] as const)
        expect(counted.reduce((sum, fate) => sum + fate[part], 0)).toBe(
          booked.reduce((sum, row) => sum + row[part], 0),
        );
    }
    // Excluded lines are in passing for the hour, with their shape.
    expect((await first.found({ condition: `shape = ${before?.id} Mona`, limit: 0 }, 1)).total).toBe(1);
  });

  test('tell what fills their holes and who reads them, and are wanted where someone says so', async () => {
    await first.source('gates');
    await first.ask('saveSearch', { name: 'slow-gates', condition: 'source = gates', window: '-1h' });
    await send(first, 'gates', Array.from({ length: 40 }, (_, i) => `gate ${i % 4} opened in ${i} ms\n`).join(''));
    const [shape] = await shapesOf(first, 'source = gates', ([one]) => one?.events === 40 && one.pieces.length > 1);
    const id = shape?.id ?? '';
    const answer = await first.ask<ShapeAnswer>('shape', { id });
    expect(answer.holes).toMatchObject([
      { distinct: 4, range: { low: 0, high: 3 } },
      { distinct: 40, range: { low: 0, high: 39 } },
    ]);
    expect(answer.lines).toBe(40);
    expect(answer.readers).toEqual([{ kind: 'search', name: 'slow-gates', share: 1 }]);
    expect(answer.condition).toBe('source = gates "gate" "opened in" "ms"');
    expect((await first.found({ condition: answer.condition, limit: 0 }, 40)).total).toBe(40);
    expect(answer.template).toBe('gate {number:int} opened in {number2:int} ms');
    await first.ask('wantShape', { id, wanted: true });
    const [wanted] = await shapesOf(second, 'source = gates', ([one]) => one?.wanted === true);
    expect(wanted?.wanted).toBe(true);
    await expect(first.ask('shape', { id: 'zzzzzzzzzz' })).rejects.toThrow(/no shape of this id/);
  });

  test('lines that leave out a part of a value are of its shape, in both engines and after a restart', async () => {
    await first.source('packages');
    await second.refresh();
    const pair = (name: string): string => `loaded ${name}:arm64 for the fleet\nloaded ${name}-data for the fleet\n`;
    const all = (list: readonly string[]): string => list.map((name, i) => pair(`${name.toLowerCase()}${i}`)).join('');
    const isOne = (count: number) => (shapes: readonly ShapeView[]) => shapes.length === 1 && events(shapes) === count;
    await send(first, 'packages', all(names));
    const [shape, ...others] = await shapesOf(first, 'source = packages', isOne(24));
    expect(others).toEqual([]);
    await first.kill();
    await first.restart();
    await send(second, 'packages', pair('mast7') + pair('oar9'));
    for (const engine of [first, second])
      expect(await shapesOf(engine, 'source = packages', isOne(28))).toMatchObject([{ id: shape?.id }]);
    const { holes, lines } = await second.ask<ShapeAnswer>('shape', { id: shape?.id });
    expect(lines).toBe(28);
    expect(holes).toMatchObject([{ distinct: 28 }]);
  });

  test('a condition beyond what is counted is asked about what is stored', async () => {
    const list = await first.ask<ShapesAnswer>('shapes', { condition: 'source = gates opened' });
    expect(list.isCounted).toBe(false);
    expect(list.shapes.map(({ events: count }) => count)).toEqual([40]);
    await expect(first.ask('shapes', { condition: 'status >=' })).rejects.toThrow();
  });
});
