import { describe, expect, test } from 'vitest';
import { checkStep } from '../plan/parts/pipelines/check-step.ts';
import { runOn, runSteps } from '../testing/run-steps.ts';
import type { StepDocument } from './step-document.ts';

describe('converting', () => {
  test.each([
    ['number', '12.5', 12.5],
    ['int', '12', 12],
    ['int', '12.7', 12],
    ['text', 12.5, '12.5'],
    ['flag', 'yes', true],
    ['flag', 'off', false],
    ['duration', '250ms', 0.25],
    ['duration', '1.5h', 5_400],
    ['size', '3MB', 3e6],
    ['size', '1KiB', 1_024],
    ['ip', '192.0.2.1', '192.0.2.1'],
    ['place', '58.96,-3.29', '58.96,-3.29'],
  ])('to %s: %j becomes %j', (to, value, expected) => {
    expect(runOn([{ convert: { field: 'v', to } }], { v: value })[0]?.v).toBe(expected);
  });

  test.each([
    ['number', 'twelve'],
    ['int', 'a dozen'],
    ['flag', 'maybe'],
    ['duration', '12 parsecs'],
    ['size', '3 cups'],
    ['ip', '192.0.2.300'],
    ['ip', '2001:db8:::1'],
    ['place', '95,3'],
    ['place', 'Tarnholm'],
  ])('to %s: %j stays as it is, and the step says so', (to, value) => {
    const [event] = runOn([{ convert: { field: 'v', to } }], { v: value });
    expect(event).toMatchObject({ v: value, 'parse.failed': `p/1: v is no ${to}` });
  });

  test('plain numbers are in the unit that is given', () => {
    const steps = [{ convert: { field: 'took', to: 'duration', unit: 'ms' } }];
    expect(runOn(steps, { took: 250 }, { took: '250' }, { took: '2s' }).map(({ took }) => took)).toEqual([
      0.25, 0.25, 2,
    ]);
  });
});

describe('pairs', () => {
  test.each([
    ['a=1 b=2', { a: '1', b: '2' }],
    ['a="x y" b=', { a: 'x y', b: '' }],
    ['noise a=1, b=2; tail', { a: '1', b: '2' }],
    ['url=/x?q=1 n=2', { url: '/x?q=1', n: '2' }],
    ['a="open', { a: 'open' }],
  ])('%s', (line, expected) => {
    expect(runSteps([{ 'parse-pairs': { from: 'body' } }], [line]).events[0]).toMatchObject(expected);
  });
});

describe('masking', () => {
  test('whole values: the same value gets the same hash, and numbers are masked as well', () => {
    const events = runOn(
      [{ mask: { fields: ['user', 'seat'], with: 'hash' } }],
      { user: 'anna', seat: 4 },
      { user: 'anna' },
      {
        user: 'mara',
      },
    );
    expect(events[0]?.user).toMatch(/^#[0-9a-f]{16}$/);
    expect(events[0]?.seat).toMatch(/^#[0-9a-f]{16}$/);
    expect(events[1]?.user).toBe(events[0]?.user);
    expect(events[2]?.user).not.toBe(events[0]?.user);
  });

  test.each([
    ['email', 'to anna@skerry.example now', 'to ••• now'],
    ['ip', 'from 192.0.2.14 to 198.51.100.9', 'from ••• to •••'],
    ['card', 'card 4000001234567899 or 4000001234567890', 'card ••• or 4000001234567890'],
  ])('%s within texts', (find, body, expected) => {
    const { events } = runSteps([{ mask: { fields: ['*'], find, with: 'remove' } }], [body]);
    expect(events[0]?.body).toBe(expected);
  });

  test('what follows a text, in all fields', () => {
    const steps = [{ mask: { fields: ['*'], after: 'pin=', with: 'remove' } }];
    expect(runOn(steps, { msg: 'pin=1234 ok', note: 'and pin=9', n: 3 })[0]).toMatchObject({
      body: 'pin=••• ok',
      note: 'and pin=•••',
      n: 3,
    });
  });

  test('either a detector or what it follows', () => {
    const step = { mask: { fields: ['*'], find: 'email', after: 'to ', with: 'hash' } };
    expect(checkStep(step, '')[0]?.message).toBe('a mask has either find or after');
  });
});

describe('tables', () => {
  test('all other columns become fields, or the second one a field that is named', () => {
    const steps = [{ map: { from: 'code', table: 'ports' } }];
    expect(runOn(steps, { code: 'TRN', region: 'old' }, { code: 'no' })).toMatchObject([
      { port: 'Tarnholm', region: 'south' },
      { code: 'no', 'parse.failed': 'p/1: code is not in the table' },
    ]);
    const [single] = runOn([{ map: { from: 'code', table: 'ports', to: 'harbour' } }], { code: 'SKV' });
    expect(single).toMatchObject({ harbour: 'Skerryvoe' });
    expect(single).not.toHaveProperty('region');
  });
});

describe('joining lines', () => {
  const trace = ['Failure at pier', '  at gate', '  at lane', 'Next'];

  test('by how a continuation looks, or by how a record starts', () => {
    for (const rule of [{ continues: '^\\s' }, { starts: '^[A-Z]' }]) {
      const { events } = runSteps([{ 'join-lines': rule }], trace);
      expect(events.map(({ body }) => body)).toEqual(['Failure at pier\n  at gate\n  at lane', 'Next']);
    }
  });

  test('the bytes of what was joined are counted once', () => {
    const { batch, read } = runSteps([{ 'join-lines': { continues: '^\\s' } }], trace);
    const sum = (sizes: ArrayLike<number>): number => Array.from(sizes).reduce((total, size) => total + size, 0);
    expect(sum(batch.size)).toBe(trace.join('').length);
    expect(read.rows).toBe(batch.rows);
  });
});

describe('a field that an event has already', () => {
  test.each<[StepDocument, string, string]>([
    [{ 'parse-pairs': { from: 'body' } }, 'level=warn', 'other=1'],
    [{ 'parse-json': { from: 'payload' } }, '{"payload":"{\\"level\\":\\"warn\\"}"}', '{"payload":"{}"}'],
    [{ extract: { from: 'body', template: 'a {level?}' } }, 'a warn', 'a -'],
  ])('%j replaces it only where it gives a new value, whatever else is in the batch', (step, gives, lacks) => {
    const before = { compute: { set: 'level', to: '"old"' } };
    const alone = runSteps([before, step], [lacks]).events[0]?.level;
    const together = runSteps([before, step], [gives, lacks]).events.map(({ level }) => level);
    expect(alone).toBe('old');
    expect(together).toEqual(['warn', 'old']);
  });

  test('keeps its value where a template stopped fitting half way', () => {
    const step = { extract: { from: 'body', template: '{level} {n:int} {at:iso}' } };
    const [bad, good] = runSteps([step], ['warn 1 2026-13-45T00:00:00Z', 'warn 1 2026-11-24T00:00:00Z']).events;
    expect(bad).not.toHaveProperty('n');
    expect(good).toMatchObject({ level: 'warn', n: 1 });
  });
});
