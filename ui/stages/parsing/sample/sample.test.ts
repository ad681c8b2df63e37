import { describe, expect, test } from 'vitest';
import { proposeForSample, trySample } from './sample.ts';

const pipeline = {
  id: 'gates',
  title: 'Gates',
  when: 'source = gates',
  steps: [
    { extract: { from: 'body', templates: ['gate {gate:int} took {took:duration}', 'gate {gate:int} shut'] } },
    { compute: { set: 'slow', to: 'took * 1000' }, when: 'has took' },
  ],
};
const lines = ['gate 1 took 20ms', 'gate 2 shut', 'gate two shut', 'door 3 shut', 'gate 4 took 3s'];
const counted = { from: 0, to: 1_000 };
const request = { source: 'gates', lines, counted, pipeline, step: 0, followed: 0, marked: [] };

describe('sample lines', () => {
  const { lines: cut, entered, fitted } = trySample(request);

  test('that do not fit come first', () => {
    expect([entered, fitted]).toEqual([5, 3]);
    expect(cut.map(({ fits }) => fits)).toEqual([false, false, true, true, true]);
    expect(cut.map(({ place }) => place).sort()).toEqual([0, 1, 2, 3, 4]);
  });

  test('are cut into pieces that make up the line, with the names of their holes', () => {
    for (const line of cut) expect(line.pieces.map(({ text }) => text).join('')).toBe(line.text);
    const took = cut.find(({ place }) => place === 0);
    expect(took).toMatchObject({ template: 0, fits: true });
    expect(took?.pieces.filter(({ name }) => name).map(({ name, text }) => [name, text])).toEqual([
      ['gate', '1'],
      ['took', '20ms'],
    ]);
    expect(cut.find(({ place }) => place === 1)?.template).toBe(1);
  });

  test('say where they stop fitting, and what was expected there', () => {
    const reasons = Object.fromEntries(cut.filter(({ fits }) => !fits).map(({ text, reason }) => [text, reason]));
    expect(reasons['door 3 shut']).toBe('expected “gate ”');
    expect(reasons['gate two shut']).toMatch(/gate/);
    const fault = cut.find(({ text }) => text === 'gate two shut')?.pieces.find((piece) => piece.fault);
    expect(fault?.text).toBe('two shut');
  });

  test('are shown of every reason, however rare, and counted all', () => {
    const many = [...Array.from({ length: 500 }, (_, i) => `door ${i} shut`), ...lines];
    const answer = trySample({ ...request, lines: many });
    expect(answer).toMatchObject({ entered: 505, fitted: 3 });
    expect(answer.lines.length).toBeLessThan(60);
    expect(answer.lines.some(({ text }) => text === 'gate two shut')).toBe(true);
    expect(answer.reasons.map(([, count]) => count)).toEqual([501, 1]);
  });

  test('that are marked are shown, however many others fit or fail as they do', () => {
    const many = [
      ...Array.from({ length: 900 }, (_, i) => `gate ${i} shut`),
      ...Array.from({ length: 90 }, (_, i) => `door ${i} shut`),
    ];
    const places = (marked: readonly number[]): readonly number[] =>
      trySample({ ...request, lines: many, marked }).lines.map(({ place }) => place);
    expect(places([])).not.toContain(899);
    expect(places([899, 989])).toEqual(expect.arrayContaining([899, 989]));
  });

  test('that were pasted or searched for are shown and not counted', () => {
    const some = ['door 9 ajar', ...lines, 'door 10 ajar', 'gate 9 took long'];
    const answer = trySample({ ...request, lines: some, counted: { from: 1, to: 6 } });
    expect(answer).toMatchObject({ entered: 5, fitted: 3, tried: 8 });
    expect(answer.lines.some(({ text }) => text === 'door 9 ajar')).toBe(true);
    // The counts of the reasons add up to the lines that do not fit.
    expect(answer.reasons.reduce((sum, [, count]) => sum + count, 0)).toBe(answer.entered - answer.fitted);
    expect(answer.reasons.some(([, count]) => count === 0)).toBe(true);
  });

  test('get proposals if they do not match', () => {
    const shut = {
      ...request,
      lines: Array.from({ length: 9 }, (_, i) => `lane ${i} shut by ${i % 2 ? 'ole' : 'mara'}`),
    };
    expect(proposeForSample(shut, trySample(shut))[0]?.value).toBe('lane {lane:int} shut by {word}');
    expect(proposeForSample({ ...shut, step: 1 }, trySample(shut))).toEqual([]);
  });

  test('that the pipeline does not take in are left out', () => {
    const some = { ...request, pipeline: { ...pipeline, when: 'took' } };
    expect(trySample(some)).toMatchObject({ entered: 2, fitted: 2 });
  });
});

describe('one line is followed', () => {
  test('through every step, with its size and what it has become', () => {
    const { trail } = trySample({ ...request, followed: 4 });
    expect(trail.map(({ event }) => event.attributes)).toEqual([
      {},
      { gate: 4, took: 3 },
      { gate: 4, took: 3, slow: 3000 },
    ]);
    expect(trail.map(({ bytes }) => bytes)).toEqual([14, 30, 38]);
    expect(trail.map(({ events }) => events)).toEqual([1, 1, 1]);
    for (const { microseconds } of trail) expect(microseconds).toBeGreaterThanOrEqual(0);
  });

  test('that becomes several', () => {
    const splitting = { ...pipeline, steps: [{ 'split-array': { from: 'scans' } }] };
    const line = '{"scans":[{"lane":1},{"lane":2},{"lane":3}]}';
    const { trail } = trySample({ ...request, lines: [line], pipeline: splitting });
    expect(trail.map(({ events }) => events)).toEqual([1, 3]);
  });

  test('and a place that is none has no trail', () => {
    expect(trySample({ ...request, followed: 99 })).toMatchObject({ line: undefined, trail: [] });
  });

  test('with what the steps look up', () => {
    const mapping = { ...pipeline, steps: [...pipeline.steps, { map: { from: 'gate', table: 'piers' } }] };
    const rows: Readonly<Record<string, readonly string[]>> = { 4: ['4', 'North'] };
    const table = { columns: ['gate', 'pier'], rows: 1, find: (key: string) => rows[key] };
    const { trail, line } = trySample(
      { ...request, pipeline: mapping, followed: 4 },
      { table: () => table, place: () => undefined },
    );
    expect(trail.at(-1)?.event.attributes).toMatchObject({ gate: 4, pier: 'North' });
    expect(line).toBe('gate 4 took 3s');
  });
});

test('tests of the pipeline are run beside, while all its steps are valid', () => {
  const kept = { name: 'shut', input: 'gate 2 shut', expect: { gate: 2 } };
  const tested = { ...pipeline, tests: [kept, { ...kept, name: 'other', expect: { gate: 3 } }] };
  expect(trySample({ ...request, pipeline: tested }).tests.map(({ passed }) => passed)).toEqual([true, false]);
  const broken = { ...tested, steps: [...pipeline.steps, { nonsense: {} }] };
  expect(trySample({ ...request, pipeline: broken }).tests).toEqual([]);
});

test('steps and templates that are not valid yet do no harm', () => {
  const broken = { ...pipeline, steps: [{ extract: { from: 'body', template: 'gate {' } }, { nonsense: {} }] };
  expect(trySample({ ...request, pipeline: broken })).toMatchObject({ entered: 5, fitted: 0 });
  expect(trySample({ ...request, lines: [] })).toMatchObject({ entered: 0, lines: [], trail: [] });
});
