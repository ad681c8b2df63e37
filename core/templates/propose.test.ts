import { describe, expect, test } from 'vitest';
import { propose } from './propose.ts';
import { compileTemplate } from './template.ts';

const count = 40;
const lines = (line: (i: number) => string): readonly string[] => Array.from({ length: count }, (_, i) => line(i));
const access = (i: number): string =>
  `203.0.113.${i} - - [24/Nov/2026:08:15:${10 + i} +0000] "GET /fares?n=${i} HTTP/1.1" ${i % 5 ? 200 : 404} ${i * 7} "-" "Kiosk ${i}"`;

describe('what is proposed for lines', () => {
  test('formats of whole records, with the share that each fits', () => {
    const mixed = [...lines((i) => `{"n":${i}}`), ...lines((i) => `<34>1 2026-11-24T08:00:00Z h a - - - x${i}`)];
    expect(propose(mixed)).toMatchObject([
      { kind: 'format', value: 'json', share: 0.5 },
      { kind: 'format', value: 'rfc5424', share: 0.5 },
    ]);
  });

  test('web access lines as the widespread formats write them', () => {
    const [first] = propose(lines(access));
    expect(first).toMatchObject({ kind: 'template', title: 'Combined log format', share: 1 });
  });

  test('pairs, from three of them on', () => {
    expect(propose(lines((i) => `level=info n=${i} msg="x y"`))).toContainEqual(
      expect.objectContaining({ kind: 'step', value: 'parse-pairs', share: 1 }),
    );
    expect(propose(lines((i) => `n=${i}`)).some(({ kind }) => kind === 'step')).toBe(false);
  });

  test('a template as the lines are made: what varies are holes with types and names, the rest is constant', () => {
    const [first] = propose(lines((i) => `2026-11-24T08:00:${10 + i}Z berth ${i} assigned to 192.0.2.${i} in ${i}ms`));
    expect(first).toMatchObject({ kind: 'template', share: 1 });
    expect(first?.value).toBe('{at:iso} berth {berth:int} assigned to {client:ip} in {took:duration}');
  });

  test('one for each kind of line there is, the commonest first', () => {
    const two = [
      ...lines((i) => `gate ${i} open`),
      ...lines((i) => `gate ${i} open`),
      ...lines((i) => `lane ${i} is: shut`),
    ];
    const shares = propose(two).map(({ share }) => Math.round(share * 100));
    expect(shares[0]).toBe(67);
    expect(shares).toContain(33);
  });

  test('free text behind a common beginning is the message', () => {
    const words = ['rope', 'a slack rope', 'no answer from the pilot', 'fog over the isles, all sailings late'];
    const free = lines((i) => `08:00:${10 + i} [watch] ${words[i % 4]} ${'x '.repeat(i % 7)}${i}`);
    const best = propose(free)[0];
    expect(best?.share).toBeGreaterThan(0.9);
    expect(best?.value).toContain('{message:rest}');
  });

  test('a value that may be a dash may be missing', () => {
    const [first] = propose(lines((i) => `trip ${i % 2 ? '-' : i} done ${i}`));
    expect(first?.value).toMatch(/\{\w+\?:int\}/);
  });

  test('times in the usual formats are recognised, even if they are constant', () => {
    const [first] = propose(lines((i) => `24.11.2026 08:15:02,440 lane ${i} shut by ${i % 2 ? 'ole' : 'mara'}`));
    expect(first?.value).toBe('{at:time} lane {lane:int} shut by {word}');
  });

  test('an extended template keeps its names and types', () => {
    const beside = '{at:iso} berth {berth} taken by {ship}';
    const [first] = propose(
      lines((i) => `2026-11-24T08:00:${10 + i}Z berth ${i} taken by hull-${i} for ${i * 5}ms`),
      { templates: [beside] },
    );
    expect(first).toMatchObject({ title: 'template 1, extended at the end', share: 1 });
    expect(first?.value).toBe(`${beside} for {took:duration}`);
  });

  test('a template keeps its names and types when one of its words has changed', () => {
    const beside = '{at:iso} {lvl} pay[{worker:int}] {outcome} card={card} amount={amount:number}{currency} ref={ref}';
    const misfits = lines(
      (i) => `2026-11-24T08:00:${10 + i}Z I pay[${i % 9}] accepted card=40${i} settle=${i}.5EUR ref=SKL-${i * 7}`,
    );
    const [first] = propose(misfits, { templates: [beside] });
    expect(first).toEqual({
      kind: 'template',
      title: 'template 1, with “settle=” instead of “amount=”',
      value: beside.replace('amount=', 'settle='),
      share: 1,
    });
  });

  test('a word that the template has twice is not changed', () => {
    const twice = 'from {a} and {b} and {c}';
    const found = propose(
      lines((i) => `from ${i} or x${i} or y${i}`),
      { templates: [twice] },
    );
    expect(found.map(({ title }) => title).join()).not.toContain('instead of');
  });

  test('an invalid template of the step is ignored', () => {
    expect(propose(lines(access), { templates: ['{a}{b}'] })[0]?.title).toBe('Combined log format');
  });

  test('nothing, for no lines and for blank ones', () => {
    expect(propose([])).toEqual([]);
    expect(propose(['', '   '])).toEqual([]);
  });
});

test('whatever is proposed compiles', () => {
  const samples = [access(3), 'a{b}c 1', '}{', 'x="y z" (1) <2>', 'p=1;q=2;r=3', '08:00 – ♥ ok'];
  for (const sample of samples) {
    for (const { kind, value } of propose(lines((i) => `${sample} ${i}`)))
      if (kind === 'template') expect(compileTemplate(value).ok).toBe(true);
  }
});
