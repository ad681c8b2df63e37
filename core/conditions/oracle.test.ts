import fc from 'fast-check';
import { expect, test } from 'vitest';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { compileCondition, conditionOf } from './condition.ts';

/** An event, and a condition with the same meaning in two shapes: as text, and as a plain function over the event. */
interface Event {
  readonly service?: string;
  readonly status?: number;
  readonly ok?: boolean;
}

interface Meaning {
  readonly text: string;
  readonly holds: (event: Event) => boolean;
}

const services = ['booking', 'payments', 'gates', 'Gates', 'pay'];
const event: fc.Arbitrary<Event> = fc.record(
  { service: fc.constantFrom(...services), status: fc.integer({ min: 0, max: 9 }), ok: fc.boolean() },
  { requiredKeys: [] },
);

const same = (a: string | undefined, b: string): boolean => a?.toLowerCase() === b.toLowerCase();
const number = fc.integer({ min: -1, max: 10 });

const comparison: fc.Arbitrary<Meaning> = fc.oneof(
  fc.constantFrom(...services).map((name) => ({
    text: `service = ${name}`,
    holds: ({ service }: Event) => same(service, name),
  })),
  fc.constantFrom(...services).map((name) => ({
    text: `service != ${name}`,
    holds: ({ service }: Event) => service !== undefined && !same(service, name),
  })),
  fc.constantFrom('pay', 'ga', 'g').map((start) => ({
    text: `service = ${start}*`,
    holds: ({ service }: Event) => service?.toLowerCase().startsWith(start) ?? false,
  })),
  fc.subarray(services, { minLength: 1 }).map((names) => ({
    text: `service in (${names.join(', ')})`,
    holds: ({ service }: Event) => names.some((name) => same(service, name)),
  })),
  fc
    .tuple(
      number,
      fc.constantFrom(
        ['<', (a: number, b: number) => a < b] as const,
        ['<=', (a: number, b: number) => a <= b] as const,
        ['>', (a: number, b: number) => a > b] as const,
        ['>=', (a: number, b: number) => a >= b] as const,
        ['=', (a: number, b: number) => a === b] as const,
        ['!=', (a: number, b: number) => a !== b] as const,
      ),
    )
    .map(([limit, [sign, test]]) => ({
      text: `status ${sign} ${limit}`,
      holds: ({ status }: Event) => status !== undefined && test(status, limit),
    })),
  fc.tuple(number, number).map(([from, to]) => ({
    text: `status in ${from}..${to}`,
    holds: ({ status }: Event) => status !== undefined && status >= from && status <= to,
  })),
  fc.constantFrom('service' as const, 'status' as const, 'ok' as const).map((name) => ({
    text: `has ${name}`,
    holds: (event: Event) => event[name] !== undefined,
  })),
  fc.boolean().map((wanted) => ({ text: `ok = ${wanted}`, holds: ({ ok }: Event) => ok === wanted })),
);

const { meaning } = fc.letrec<{ meaning: Meaning }>((tie) => ({
  meaning: fc.oneof(
    { maxDepth: 5, depthSize: 'small' },
    comparison,
    tie('meaning').map(({ text, holds }) => ({ text: `not (${text})`, holds: (event: Event) => !holds(event) })),
    fc.tuple(tie('meaning'), tie('meaning')).map(([a, b]) => ({
      text: `(${a.text}) and (${b.text})`,
      holds: (event: Event) => a.holds(event) && b.holds(event),
    })),
    fc.tuple(tie('meaning'), tie('meaning')).map(([a, b]) => ({
      text: `(${a.text}) or (${b.text})`,
      holds: (event: Event) => a.holds(event) || b.holds(event),
    })),
  ),
}));

test('columns give what looking at each event by itself gives', () => {
  fc.assert(
    fc.property(fc.array(event, { minLength: 1, maxLength: 12 }), meaning, (events, { text, holds }) => {
      const mask = conditionOf(text).test(batchOf(events), { now: arrival });
      expect([...mask].map(Boolean)).toEqual(events.map(holds));
    }),
    { numRuns: 400 },
  );
});

test('and binds tighter than or, and what is written side by side is joined by and', () => {
  const events = [{ service: 'gates' }, { status: 1 }, { status: 1, ok: true }, { ok: true }];
  const rows = (text: string) => [...conditionOf(text).test(batchOf(events), { now: arrival })];
  expect(rows('has service or has status and has ok')).toEqual([1, 0, 1, 0]);
  expect(rows('(has service or has status) and has ok')).toEqual([0, 0, 1, 0]);
  expect(rows('has status has ok')).toEqual(rows('has status and has ok'));
});

test('any text is a condition or has a fault that is in it', () => {
  const piece = fc.constantFrom(
    '(',
    ')',
    'and',
    'or',
    'not',
    'has',
    'in',
    '=',
    '..',
    '"',
    '/',
    'status',
    '5',
    '*',
    ' ',
  );
  const text = fc.oneof(
    fc.string({ maxLength: 40 }),
    fc.array(piece, { maxLength: 20 }).map((pieces) => pieces.join(' ')),
  );
  fc.assert(
    fc.property(text, (written) => {
      const compiled = compileCondition(written);
      if (compiled.ok) {
        compiled.condition.test(batchOf([{ status: 5 }]), { now: arrival });
        return;
      }
      expect(compiled.problem.start).toBeGreaterThanOrEqual(0);
      expect(compiled.problem.start).toBeLessThanOrEqual(written.length);
      expect(compiled.problem.message).not.toBe('');
    }),
    { numRuns: 500 },
  );
});
