import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { eventsOfHour } from '#demo/generate.ts';
import { demoSources } from '#demo/sources/index.ts';
import { happeningsOf } from '#demo/world.ts';
import { encode } from '../events/text-table.ts';
import { slowdown } from '../testing/slowdown.ts';
import { fits, learnTemplate, type Mark, typesOf } from './learn.ts';
import { propose } from './propose.ts';
import { compileTemplate } from './template.ts';

const start = Date.UTC(2026, 10, 24, 9);

function demoLines(name: string): readonly string[] {
  const source = demoSources.find((candidate) => candidate.name === name);
  if (!source) throw new Error(`no source ${name}`);
  return eventsOfHour(source, start, happeningsOf(start), 'learn').map(({ line }) => line);
}

/** Marks values in a line, each behind what is before it. */
function mark(
  line: string,
  ...values: readonly (readonly [name: string, value: string])[]
): { line: string; marks: Mark[] } {
  let at = 0;
  const marks = values.map(([name, value]) => {
    const from = line.indexOf(value, at);
    if (from < 0) throw new Error(`${value} is not in ${line}`);
    at = from + value.length;
    return { start: from, end: at, name };
  });
  return { line, marks };
}

/** Marks what a regular expression with named groups finds in a line. */
function markBy(shape: RegExp, line: string): { line: string; marks: Mark[] } {
  const spans = new RegExp(shape.source, 'd').exec(line)?.indices?.groups;
  if (!spans) throw new Error(line);
  return { line, marks: Object.entries(spans).map(([name, [start, end]]) => ({ name, start, end })) };
}

describe('learning from marks', () => {
  test('one line, types guessed, braces kept', () => {
    const learnt = learnTemplate(
      [mark('{x} took 12ms from 192.0.2.1 [a]', ['took', '12ms'], ['client', '192.0.2.1'])],
      [],
    );
    expect(learnt).toMatchObject({ ok: true, template: '{{x}} took {took:duration} from {client:ip} [a]' });
  });

  test.each([
    [
      'berth-planner',
      /^ts=(?<at>\S+) level=(?<lvl>\S+) msg="candidate scored" host=(?<host>\S+) vessel="(?<vessel>[^"]+)" port="(?<port>[^"]+)" berth=(?<berth>\d+) cache=(?<cache>\w+) score=(?<score>[\d.]+)/,
      /candidate scored/,
    ],
    [
      'payments',
      /^(?<at>\S+) (?<lvl>\S) pay\[(?<worker>\d+)\] (?<outcome>\w+) card=(?<card>\S+) (?:amount|settle)=(?<amount>[\d.]+)(?<currency>[A-Z]+) acquirer=(?<acquirer>\w+) took=(?<took>\S+) ref=(?<ref>\S+)$/,
      /amount=/,
    ],
    ['tides', /^(?<gauge>[^,]+),(?<at>[^,]+),(?<height>[^,]+),(?<wind>[^,]+),(?<water>[^,]+),(?<battery>[^,]+)$/, /Z,/],
    [
      'booking-web',
      /^(?<client>\S+) - (?<user>\S+) \[(?<at>[^\]]+)\] "(?<method>\S+) (?<path>\S+) HTTP\/[\d.]+" (?<status>\d+) (?<bytes>\d+) "(?<referrer>[^"]*)" "(?<agent>[^"]*)" (?<took>\S+)$/,
      /Mozilla|Kiosk/,
    ],
    ['notices', /^sent boarding notice for (?<ref>\S+) to passenger at (?<port>.+)$/, /^sent/],
  ] as const)('three marked lines of %s fit at least 99 %% of their kind', (name, shape, kind) => {
    const lines = demoLines(name).filter((line) => kind.test(line));
    const marked = [0, Math.floor(lines.length / 2), lines.length - 1].map((i) => markBy(shape, lines[i] as string));
    const learnt = learnTemplate(marked, lines);
    if (!learnt.ok) throw new Error(learnt.message);
    expect(compileTemplate(learnt.template).ok).toBe(true);
    expect(lines.filter((line) => fits(learnt.template, line)).length / lines.length).toBeGreaterThanOrEqual(0.99);
  });

  test('what varies between the marks is skipped, as other lines of the kind show', () => {
    const lines = demoLines('notices').filter((line) => line.startsWith('sent'));
    const [line = ''] = lines;
    const port = /at (.+)$/.exec(line)?.[1] ?? '';
    const learnt = learnTemplate([mark(line, ['port', port])], lines);
    expect(learnt).toMatchObject({ ok: true, fitting: lines.length });
  });

  test('a value that other lines leave empty may be missing', () => {
    const home = 'https://www.skerry.example/';
    const marked = mark(`GET /x "${home}" 200`, ['referrer', home], ['status', '200']);
    const learnt = learnTemplate(
      [marked],
      [200, 404].map((status) => `GET /x "" ${status}`),
    );
    expect(learnt).toMatchObject({ ok: true, template: 'GET /x "{referrer?}" {status:int}', fitting: 2 });
  });

  test('text that differs in several places between lines of one kind is skipped in all of them', () => {
    const others = ['ticket S-2 open in 216 ms', 'ticket S-3 late in 95 ms', 'ticket S-4 shut in 7 ms'];
    const line = 'ticket S-1 open in 441 ms';
    const learnt = learnTemplate([{ line, marks: [{ start: 9, end: 10, name: 'number' }] }], others, { patience: 6 });
    expect(learnt).toEqual({ ok: true, template: 'ticket S-{number:int} {} in {} ms', fitting: 3 });
  });

  test('marks that cannot make a template say why', () => {
    expect(learnTemplate([], []).ok).toBe(false);
    expect(learnTemplate([mark('ab', ['a', 'a'], ['b', 'b'])], [])).toMatchObject({ ok: false });
    expect(learnTemplate([mark('a b', ['a', 'a']), mark('a b', ['b', 'b'])], [])).toMatchObject({ ok: false });
  });

  test('types are offered for a value', () => {
    expect(typesOf('12ms')).toEqual(['text', 'duration']);
    expect(typesOf('404')).toEqual(['text', 'int', 'number']);
    expect(typesOf('0042')).toEqual(['text']);
  });
});

describe('proposing', () => {
  test.each([
    ['booking-web', 'template', 0.99],
    ['tides', 'template', 0.97],
    ['berth-planner', 'step', 0.99],
    ['timetable', 'format', 0.99],
    ['gates', 'format', 0.99],
    ['payments', 'template', 0.9],
  ] as const)('%s: a %s that fits', (name, kind, share) => {
    const proposals = propose(demoLines(name));
    const best = proposals.find((proposal) => proposal.kind === kind);
    expect(best?.share).toBeGreaterThanOrEqual(share);
    for (const { kind: own, value } of proposals) if (own === 'template') expect(compileTemplate(value).ok).toBe(true);
  });

  test('any lines are gone through without harm', () => {
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 80 }), { maxLength: 12 }), (lines) => {
        for (const { kind, value } of propose(lines)) if (kind === 'template') expect(typeof value).toBe('string');
      }),
      { numRuns: 60 },
    );
  });
});

test('templates and formats take time in proportion to a hostile line', () => {
  const template = compileTemplate('{a} x {b} y{c}z {d:quoted} {e:json} {f:pairs}');
  if (!template.ok) throw new Error('template');
  const spans = new Int32Array(12);
  const prepare = (length: number) => {
    const line = encode(`${' x'.repeat(length)}${'"{['.repeat(length)}`);
    return () => {
      for (let i = 0; i < 20; i++) template.template.match(line, 0, line.length, spans);
    };
  };
  // Sixteen times the length: time in proportion gives about 16, quadratic time 256.
  expect(slowdown(prepare, [10_000, 160_000])).toBeLessThan(100);
});
