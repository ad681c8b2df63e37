import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { eventAt } from '../events/batch.ts';
import { runPipelines } from '../pipelines/run-pipelines.ts';
import { fieldsOf } from '../plan/event-fields.ts';
import { checkStep } from '../plan/parts/pipelines/check-step.ts';
import { compilePipeline } from '../plan/parts/pipelines/compile-pipeline.ts';
import { arrival, batchOfLines } from '../testing/batch-of.ts';
import { resources, runSteps } from '../testing/run-steps.ts';
import { stepKinds } from './index.ts';
import { noResources } from './step.ts';

describe('every kind of step', () => {
  test.each([...stepKinds.values()].map((kind) => [kind.kind, kind] as const))(
    '%s does what its example says',
    (name, kind) => {
      const { options, input, expect: expected } = kind.example;
      expect(kind.help.length).toBeGreaterThan(60);
      const step = { [name]: options };
      expect(checkStep(step, '')).toEqual([]);
      const lines = name === 'join-lines' ? input.split('\n') : [input];
      const pipeline = compilePipeline({ id: 'example', title: 'Example', when: '', steps: [step] }, noResources);
      const { batch } = runPipelines([pipeline], batchOfLines(lines), { now: arrival });
      const fields: Readonly<Record<string, unknown>> = fieldsOf(eventAt(batch, 0));
      for (const [field, value] of Object.entries(expected)) expect(fields[field] ?? null).toBe(value);
    },
  );

  test.each([...stepKinds.keys()])('%s leaves rows alone that its guard does not let in', (name) => {
    const kind = stepKinds.get(name);
    const step = { [name]: kind?.example.options, when: 'nobody = here' };
    const before = runSteps([], ['{"a":1}', 'plain']).events;
    expect(runSteps([step], ['{"a":1}', 'plain']).events).toEqual(before);
  });

  test.each([...stepKinds.keys()])('%s neither throws nor hangs on any lines', (name) => {
    const kind = stepKinds.get(name);
    const pipeline = compilePipeline(
      { id: 'p', title: 'P', when: '', steps: [{ [name]: kind?.example.options }] },
      resources,
    );
    const line = fc.oneof(
      fc.string({ maxLength: 60 }),
      fc.json().map((text) => `{"from":${text},"payload":"{}","seats":[1,{"a":2}],"took":"3s"}`),
      fc.constant(kind?.example.input ?? ''),
    );
    fc.assert(
      fc.property(
        fc.array(
          line.filter((text) => text.trim() !== '' && !text.includes('\n')),
          { minLength: 1, maxLength: 5 },
        ),
        (lines) => {
          let batch: ReturnType<typeof batchOfLines>;
          try {
            batch = batchOfLines(lines);
          } catch {
            return;
          }
          const result = runPipelines([pipeline], batch, { now: arrival });
          expect(result.fates.length).toBe(result.batch.rows);
          expect(result.read.rows).toBe(result.batch.rows);
          expect(result.batch.body.count).toBe(result.batch.rows);
        },
      ),
      { numRuns: 40 },
    );
  });
});

describe('parsing values', () => {
  test('pairs with quotes and escapes', () => {
    const { events } = runSteps(
      [{ 'parse-pairs': { from: 'body', under: 'kv' } }],
      ['a=1 msg="he said \\"go\\"" b=x,c=2', 'no pairs'],
    );
    expect(events[0]).toMatchObject({ 'kv.a': '1', 'kv.msg': 'he said "go"', 'kv.b': 'x', 'kv.c': '2' });
    expect(events[1]?.['parse.failed']).toBe('p/1: body has no pairs');
  });

  test('CSV as RFC 4180 says: quotes, doubled quotes, empty values, and what is wrong', () => {
    const step = { 'parse-csv': { from: 'body', columns: ['a', 'b', 'n:number'] } };
    const { events } = runSteps([step], ['aaa,"b ""bb"", x",3', 'aaa,,', 'a,b', 'a,"b,3', 'a,"b"x,3', 'a,b,many']);
    expect(events[0]).toMatchObject({ a: 'aaa', b: 'b "bb", x', n: 3 });
    expect(events[1]?.b).toBeUndefined();
    expect(events.slice(2).map((event) => event['parse.failed'])).toEqual([
      'p/1: there are 2 values instead of 3',
      'p/1: value 2 begins with a quote that is not closed',
      'p/1: text follows the quoted value 2',
      'p/1: n is no number',
    ]);
  });

  test('JSON in a field, and what is none', () => {
    const { events } = runSteps(
      [{ 'parse-json': { from: 'payload' } }],
      ['{"payload":"{\\"deep\\":{\\"er\\":[1,2]},\\"ok\\":true}"}', '{"payload":"[1]"}'],
    );
    expect(events[0]).toMatchObject({ 'deep.er': '[1,2]', ok: true });
    expect(events[1]?.['parse.failed']).toBe('p/1: payload is no JSON object');
  });
});

describe('looking up', () => {
  test('a table gives its other columns; what is not in it fails or gets the value for all others', () => {
    const lines = ['{"code":"skv"}', '{"code":"zzz"}'];
    const { events } = runSteps([{ map: { from: 'code', table: 'ports' } }], lines);
    expect(events[0]).toMatchObject({ port: 'Skerryvoe', region: 'north, outer' });
    expect(events[1]?.['parse.failed']).toBe('p/1: code is not in the table');
    expect(
      runSteps([{ map: { from: 'code', table: 'ports', to: 'port', otherwise: '?' } }], lines).events[1]?.port,
    ).toBe('?');
    expect(runSteps([{ map: { from: 'code', table: 'nowhere' } }], lines).events[0]?.['parse.failed']).toBe(
      'p/1: there is no table nowhere',
    );
  });

  test('an address is located', () => {
    expect(runSteps([{ locate: { from: 'ip', under: 'at' } }], ['{"ip":"198.51.100.9"}']).events[0]).toMatchObject({
      'at.country': 'Norway',
      'at.code': 'NO',
      'at.point': '61.5,9',
    });
  });
});

describe('converting', () => {
  test('addresses and places', () => {
    const steps = [{ convert: { field: 'ip', to: 'ip' } }, { convert: { field: 'at', to: 'place' } }];
    const { events } = runSteps(steps, [
      '{"ip":"2001:DB8:0:0::1","at":"58.9600, -3.29"}',
      '{"ip":"300.1.1.1","at":"91,0"}',
    ]);
    expect(events[0]).toMatchObject({ ip: '2001:db8::1', at: '58.96,-3.29' });
    expect(events[1]).toMatchObject({ ip: '300.1.1.1', 'parse.failed': 'p/1: ip is no ip' });
  });

  test('times by pattern and zone, with and without a year', () => {
    const at = (format: string, zone: string | undefined, text: string) =>
      runSteps([{ 'set-time': { from: 'at', format, ...(zone && { zone }) } }], [JSON.stringify({ at: text })])
        .events[0]?.time;
    expect(at('dd/MM/yyyy hh:mm:ss a', undefined, '24/11/2026 08:05:09 AM')).toBe('2026-11-24T08:05:09.000Z');
    expect(at("d MMM yyyy 'at' HH:mm:ss.SSS Z", undefined, '24 Nov 2026 at 10:00:00.250 +0200')).toBe(
      '2026-11-24T08:00:00.250Z',
    );
    expect(at('yyyy-MM-dd HH:mm:ss', 'Europe/Oslo', '2026-11-24 09:30:00')).toBe('2026-11-24T08:30:00.000Z');
    expect(at('iso', '+02:00', '2026-11-24T10:30:00')).toBe('2026-11-24T08:30:00.000Z');
    expect(at('iso', '+02:00', '2026-11-24T08:30:00Z')).toBe('2026-11-24T08:30:00.000Z');
    expect(at('syslog', 'Europe/Oslo', 'Nov 24 09:30:00')).toBe('2026-11-24T08:30:00.000Z');
    expect(at('MM/dd HH:mm', undefined, '11/24 08:30')).toBe('2026-11-24T08:30:00.000Z');
    expect(checkStep({ 'set-time': { from: 'at', format: 'QQ' } }, '')[0]?.message).toContain('QQ stands for nothing');
  });
});

describe('computing', () => {
  test.each([
    ['a * 2 + 1', 7],
    ['round(a / 7, 2)', 0.43],
    ['-a', -3],
    ['name & ":" & a', 'Otter:3'],
    ['lower(part(name, 1, 2))', 'ot'],
    ['first(missing, name)', 'Otter'],
    ['before("a/b/c", "/") & after("a/b/c", "/")', 'ab/c'],
    ['1m + 500ms', 60.5],
    ['max(1, a, 2) % 2', 1],
  ])('%s', (to, value) => {
    expect(runSteps([{ compute: { set: 'x', to } }], ['{"a":3,"name":"Otter"}']).events[0]?.x).toBe(value);
  });

  test.each([
    ['a +', 'expected a field, a number, a text in quotes or a function'],
    ['lowr(a)', 'did you mean lower?'],
    ['round()', 'round is written round(number, digits)'],
    ['"open', 'this text is not closed'],
    ['a b', 'expected an operator'],
  ])('%s is refused with a reason', (to, message) => {
    expect(checkStep({ compute: { set: 'x', to } }, '')[0]?.message).toContain(message);
  });
});

describe('steps that change which events there are', () => {
  test('a list becomes one event an item, and a later reject keeps only its own item', () => {
    const { events, fates, batch, read } = runSteps(
      [
        { 'split-array': { from: 'seats', to: 'seat' } },
        { convert: { field: 'seat.row', to: 'int' }, 'on-failure': 'reject' },
      ],
      ['{"ref":"A","seats":[{"row":"1"},{"row":"x"}]}', '{"ref":"B"}'],
    );
    expect(events.map((event) => [event.ref, event['seat.row']])).toEqual([
      ['A', 1],
      ['A', 'x'],
      ['B', undefined],
    ]);
    expect(fates).toEqual([0, 1, 0]);
    expect([...batch.size].filter((size) => size === 0)).toHaveLength(1);
    expect(eventAt(read, 1).attributes['seat.row']).toBe('x');
  });

  test('lines of different emitters are joined apart', () => {
    const line = (host: string, msg: string) => JSON.stringify({ host, msg });
    const { events } = runSteps(
      [{ 'join-lines': { starts: '^[A-Z]' } }],
      [line('a', 'Error'), line('b', 'Fine'), line('a', ' at x'), line('b', 'Next')],
    );
    expect(events.map((event) => event.body)).toEqual(['Error\n at x', 'Fine', 'Next']);
  });

  test('a choice decides before its branches run, and rows that come later stay in their branch', () => {
    const { events } = runSteps(
      [
        {
          choose: {
            branches: [
              {
                when: 'kind = a',
                steps: [
                  { compute: { set: 'kind', to: '"b"' } },
                  { 'split-array': { from: 'list' } },
                  { copy: { from: 'list', to: 'item' } },
                ],
              },
              { when: 'kind = b', steps: [{ compute: { set: 'second', to: '1' } }] },
            ],
            otherwise: [{ compute: { set: 'other', to: '1' } }],
          },
        },
      ],
      ['{"kind":"a","list":[1,2]}', '{"kind":"b"}', '{"kind":"c"}'],
    );
    expect(events.map(({ kind, item, second, other }) => [kind, item, second, other])).toEqual([
      ['b', 1, undefined, undefined],
      ['b', 2, undefined, undefined],
      ['b', undefined, 1, undefined],
      ['c', undefined, undefined, 1],
    ]);
  });

  test('a failure inside a choice is counted under the inner step', () => {
    const inner = { extract: { from: 'body', template: 'n={n:int}' }, 'on-failure': 'discard' };
    expect(runSteps([{ choose: { branches: [{ when: 'x', steps: [inner] }] } }], ['x']).exits).toEqual([
      { outcome: 'discarded', rule: 'p/1.1.1' },
    ]);
    const wrong = checkStep({ choose: { branches: [{ when: 'a =', steps: [{ renam: {} }] }] } }, 's');
    expect(wrong.map(({ path }) => path)).toEqual(['s.choose.branches[0].when', 's.choose.branches[0].steps[0]']);
  });
});

test('a reject is kept as it was read', () => {
  const { read } = runSteps(
    [{ remove: { fields: ['a'] } }, { extract: { from: 'body', template: 'n={n:int}' }, 'on-failure': 'reject' }],
    ['{"a":1,"msg":"x"}'],
  );
  expect(eventAt(read, 0).attributes).toEqual({ a: 1 });
});
