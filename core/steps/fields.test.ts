import { describe, expect, test } from 'vitest';
import { checkStep } from '../plan/parts/pipelines/check-step.ts';
import { runOn, runSteps } from '../testing/run-steps.ts';

describe('renaming', () => {
  test('a field takes the place of one that has the name already, and only where it is there', () => {
    const events = runOn([{ rename: { from: 'usr', to: 'user' } }], { usr: 'a', user: 'old' }, { user: 'b' }, { n: 1 });
    expect(events.map(({ usr, user }) => [usr, user])).toEqual([
      [undefined, 'a'],
      [undefined, 'b'],
      [undefined, undefined],
    ]);
  });

  test('with a guard, the others keep the old name', () => {
    const events = runOn(
      [{ rename: { from: 'usr', to: 'user' }, when: 'n > 1' }],
      { n: 1, usr: 'a' },
      { n: 2, usr: 'b' },
    );
    expect(events).toMatchObject([{ usr: 'a' }, { user: 'b' }]);
    expect(events[0]?.user).toBeUndefined();
    expect(events[1]?.usr).toBeUndefined();
  });

  test('types stay as they are, mixed ones too', () => {
    expect(runOn([{ rename: { from: 'a', to: 'b' } }], { a: 1 }, { a: 'x' }, { a: true }).map(({ b }) => b)).toEqual([
      1,
      'x',
      true,
    ]);
  });
});

describe('copying', () => {
  test('leaves the field where it is', () => {
    expect(runOn([{ copy: { from: 'a', to: 'b' } }], { a: 4, b: 'old' }, { b: 'kept' })).toMatchObject([
      { a: 4, b: 4 },
      { b: 'kept' },
    ]);
  });

  test('the body can be copied into a field', () => {
    expect(runSteps([{ copy: { from: 'body', to: 'line' } }], ['gate open']).events[0]).toMatchObject({
      body: 'gate open',
      line: 'gate open',
    });
  });
});

describe('taking out', () => {
  test('only from the events that the guard lets in', () => {
    const events = runOn([{ remove: { fields: ['a', 'missing'] }, when: 'b = 1' }], { a: 1, b: 1 }, { a: 1, b: 2 });
    expect(events.map(({ a }) => a)).toEqual([undefined, 1]);
  });

  test('all but some, by name and by pattern; the mark of a failed step stays', () => {
    const steps = [
      { extract: { from: 'body', template: 'x{n:int}' } },
      { 'keep-only': { fields: ['pier', 'gate.*'] } },
    ];
    const [event] = runOn(steps, { msg: 'no', pier: 4, 'gate.lane': 2, gates: 3, noise: 'x' });
    expect(event).toMatchObject({ pier: 4, 'gate.lane': 2, body: 'no', 'parse.failed': 'p/1: expected “x”' });
    expect(event).not.toHaveProperty('gates');
    expect(event).not.toHaveProperty('noise');
  });
});

describe('the body', () => {
  test('is dropped only of lines that became fields', () => {
    const steps = [{ extract: { from: 'body', template: 'n={n:int}' } }, { 'drop-body': {} }];
    expect(runSteps(steps, ['n=4', 'other']).events.map(({ body }) => body)).toEqual(['', 'other']);
  });

  test('is built from fields; a missing one is a dash, and with none of them the step fails', () => {
    const steps = [{ 'template-body': { template: '{{{method}}} {path} → {status}' } }];
    const events = runOn(steps, { method: 'GET', path: '/a', status: 200 }, { method: 'PUT' }, { msg: 'x' });
    expect(events.map(({ body }) => body)).toEqual(['{GET} /a → 200', '{PUT} – → –', 'x']);
    expect(events[2]?.['parse.failed']).toBe('p/1: none of the fields is there');
    expect(checkStep({ 'template-body': { template: 'nothing' } }, '')[0]?.message).toContain('at least one {field}');
  });
});

describe('severity', () => {
  test.each([
    ['WARN', 'warn'],
    ['e', 'error'],
    ['Critical', 'error'],
    ['PANIC', 'fatal'],
    [' info ', 'info'],
  ])('%s is a usual word', (lvl, severity) => {
    const [event] = runOn([{ 'set-severity': { from: 'lvl' } }], { lvl });
    expect(event).toMatchObject({ severity });
    expect(event).not.toHaveProperty('lvl');
  });

  test('a map comes before the usual words, and * stands for all others', () => {
    const steps = [{ 'set-severity': { from: 'code', map: { I: 'debug', '9': 'fatal', '*': 'warn' } } }];
    const codes = ['i', 9, 'E', 'purple'];
    expect(runOn(steps, ...codes.map((code) => ({ code }))).map(({ severity }) => severity)).toEqual([
      'debug',
      'fatal',
      'error',
      'warn',
    ]);
  });

  test('what is none keeps its field, and the step says so', () => {
    const events = runOn([{ 'set-severity': { from: 'grade' } }], { grade: 'purple' }, { n: 1 }, { grade: 'info' });
    expect(events.map((event) => event['parse.failed'])).toEqual([
      'p/1: grade is no severity',
      'p/1: there is no grade',
      undefined,
    ]);
    expect(events[0]?.grade).toBe('purple');
    const wrong = checkStep({ 'set-severity': { from: 'lvl', map: { a: 'purple' } } }, 's');
    expect(wrong[0]).toMatchObject({ message: expect.stringContaining('purple is no severity') });
  });
});

describe('user agents', () => {
  test('parts that are not known are left out; a dash and an empty text are no agent', () => {
    const bot = 'Mozilla/5.0 (compatible; Skerrybot/1.0; +https://www.skerry.example/bot)';
    const phone =
      'Mozilla/5.0 (iPhone; CPU iPhone OS 17_5 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like Gecko) Version/17.5 Mobile/15E148 Safari/604.1';
    const events = runOn([{ 'read-agent': { from: 'ua', under: 'by' } }], { ua: phone }, { ua: '-' }, { ua: bot }, {});
    expect(events[0]).toMatchObject({ 'by.browser': 'Safari', 'by.os': 'iOS', 'by.device': 'mobile' });
    for (const event of [events[1], events[3]]) expect(Object.keys(event ?? {}).join()).not.toContain('by.');
    expect(events.every((event) => event['parse.failed'] === undefined)).toBe(true);
  });
});

describe('queries', () => {
  test.each([
    ['/sailings?port=Gannet+Bay&day=2', { 'query.port': 'Gannet Bay', 'query.day': '2' }],
    ['/a?x=1&x=2', { 'query.x': '2' }],
    ['https://www.skerry.example/b?flag&empty=', { 'query.flag': '', 'query.empty': '' }],
    ['a=1&b=%C3%A5', { 'query.a': '1', 'query.b': 'å' }],
    ['/a?broken=%zz', { 'query.broken': '%zz' }],
  ])('%s', (path, expected) => {
    expect(runOn([{ 'parse-query': { from: 'path' } }], { path })[0]).toMatchObject(expected);
  });

  test('an address without one is left alone', () => {
    const [event] = runOn([{ 'parse-query': { from: 'path' } }], { path: '/sailings' });
    expect(Object.keys(event ?? {}).some((name) => name.startsWith('query.'))).toBe(false);
    expect(event?.['parse.failed']).toBeUndefined();
  });
});
