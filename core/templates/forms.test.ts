import { expect, test } from 'vitest';
import { eventsOfHour } from '#demo/generate.ts';
import { demoSources } from '#demo/sources/index.ts';
import { happeningsOf } from '#demo/world.ts';
import { fits } from './learn.ts';
import { propose } from './propose.ts';
import { forms } from './testing/forms.ts';

const count = 60;
const linesOf = (line: (i: number) => string): readonly string[] => Array.from({ length: count }, (_, i) => line(i));

test.each(forms.map((form) => [form.name, form] as const))('%s: the first proposal is the right one', (_, form) => {
  const lines = linesOf(form.line);
  const [first] = propose(lines);
  expect(first?.value).toBe(form.right);
  expect(lines.filter((line) => fits(form.right, line))).toHaveLength(count);
});

const start = Date.UTC(2026, 10, 24, 9);
const demoLines = (name: string): readonly string[] => {
  const source = demoSources.find((candidate) => candidate.name === name);
  return source ? eventsOfHour(source, start, happeningsOf(start), 'learn').map(({ line }) => line) : [];
};

test.each([
  ['gates', 'rfc5424'],
  ['pier-network', 'rfc3164'],
  ['booking-api', 'json'],
  ['berth-planner', 'parse-pairs'],
])('the lines of %s: the first proposal is %s', (name, value) => {
  expect(propose(demoLines(name))[0]?.value).toBe(value);
});

test('other lines of the demo: one-letter levels, masked values, sentences with a free end', () => {
  expect(propose(demoLines('notices'))[0]?.value).toBe(
    'sent boarding notice for {code} to passenger at {message:rest}',
  );
  const payments = propose(demoLines('payments')).find(({ kind }) => kind === 'template');
  expect(payments?.value).toContain('{at:iso} {level} {program}[{pid:int}] ');
  expect(payments?.value).toContain('card={card} ');
});

test('access lines of the demo: the combined format with a duration', () => {
  const [first] = propose(demoLines('booking-web'));
  expect(first?.title).toBe('Combined log format, extended at the end');
  expect(first?.value).toMatch(/"\{agent\?\}" \{took:seconds\}$/);
});
