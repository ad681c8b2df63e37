import { describe, expect, test } from 'vitest';
import { checkStep } from '../../plan/parts/pipelines/check-step.ts';
import { runOn, runSteps } from '../../testing/run-steps.ts';

const cut = (...templates: string[]) => ({ extract: { from: 'body', templates } });

describe('cutting lines into fields', () => {
  test('templates are tried in order, and the first that fits gives the fields', () => {
    const { events } = runSteps(
      [cut('pay {n:int} {cur}', 'pay {all}', 'refund {n:int}')],
      ['pay 12 EUR', 'pay later', 'refund 3'],
    );
    expect(events).toMatchObject([{ n: 12, cur: 'EUR' }, { all: 'later' }, { n: 3 }]);
    expect(events[1]).not.toHaveProperty('n');
  });

  test('the reason for a misfit is that of the template which came furthest', () => {
    const { events } = runSteps(
      [cut('gate {id} opened', 'gate {id} closed after {took:duration}')],
      ['gate 4 closed after lunch', 'gate 4 jammed', 'gate 4 opened twice', 'door'],
    );
    expect(events.map((event) => event['parse.failed'])).toEqual([
      expect.stringContaining('expected took (duration)'),
      expect.stringContaining('expected “'),
      expect.stringContaining('text goes on after the end of the template'),
      expect.stringContaining('expected “gate '),
    ]);
  });

  test('values that look right and cannot be are misfits too', () => {
    const { events } = runSteps([cut('{at:iso} {n:int}')], ['2026-13-45T99:00:00Z 1', '2026-11-24T08:00:00Z 2']);
    expect(events[0]?.['parse.failed']).toBeDefined();
    expect(events[1]).toMatchObject({ n: 2, at: expect.anything() });
  });

  test('an optional hole may be empty or a dash, and gives no field then', () => {
    const { events } = runSteps([cut('"{referrer?}" {size?:int}')], ['"" -', '"-" 3', '"/a" 4']);
    expect(events.map(({ referrer, size }) => [referrer, size])).toEqual([
      [undefined, undefined],
      [undefined, 3],
      ['/a', 4],
    ]);
  });

  test('pairs in a line become fields of their own names', () => {
    const { events } = runSteps([cut('{lvl} {kv:pairs}')], ['warn berth=3 note="two words"', 'info']);
    expect(events[0]).toMatchObject({ lvl: 'warn', berth: '3', note: 'two words' });
  });

  test('another field than the body can be cut, and one that is missing fails', () => {
    const events = runOn(
      [{ extract: { from: 'url', template: '/{area}/{rest:rest}' } }],
      { url: '/booking/a/b' },
      { other: 1 },
      { url: 7 },
    );
    expect(events[0]).toMatchObject({ area: 'booking', rest: 'a/b' });
    expect(events[1]?.['parse.failed']).toBe('p/1: there is no url');
    expect(events[2]?.['parse.failed']).toContain('expected “/”');
  });

  test('what an earlier step made of a row stays when this one fails for it', () => {
    const steps = [cut('{a} {rest:rest}'), { extract: { from: 'rest', template: 'n={n:int}' } }];
    const { events, batch } = runSteps(steps, ['x n=1', 'y none']);
    expect(events).toMatchObject([
      { a: 'x', n: 1 },
      { a: 'y', rest: 'none' },
    ]);
    expect([...batch.parsed]).toEqual([1, 0]);
  });
});

describe('a step that cannot be', () => {
  test.each([
    [{ extract: { from: 'body' } }, 'a template is missing'],
    [{ extract: { from: 'body', template: 'a {b' } }, '(character'],
    [{ extract: { from: 'body', template: '{a}{b}' } }, '(character'],
    [{ extract: { from: 'body', template: '{a:itn}' } }, 'there is no type itn'],
    [{ extract: { from: 'body', template: '{severity}' } }, 'severity is built in'],
    [{ extract: { from: 'body', templates: ['{a}', '{time:iso}'] } }, 'time is built in'],
    [{ extract: { from: 'body', template: '{a}', colour: 'red' } }, 'extract has no option colour'],
    [{ extract: { frm: 'body', template: '{a}' } }, 'extract has no option frm; did you mean from?'],
    [{ extract: { from: 'body', template: '{a}' }, wen: 'x = 1' }, 'a step does one thing'],
  ])('%j is refused', (step, message) => {
    expect(
      checkStep(step, 'step')
        .map((problem) => problem.message)
        .join('; '),
    ).toContain(message);
  });
});
