import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { textColumn } from '../events/columns.ts';
import { arrival, batchOf } from '../testing/batch-of.ts';
import { conditionOf } from './condition.ts';

const events = [
  {
    msg: 'timeout after 3 tries',
    level: 'error',
    service: 'booking-api',
    status: 503,
    path: '/api/bookings',
    took: 0.4,
    ok: false,
  },
  {
    msg: 'Connection reset by peer',
    level: 'warn',
    service: 'payments',
    status: '404',
    path: '/health/live',
    user_id: 'u12345',
  },
  { msg: 'declined: no cover', level: 'info', service: 'Payments', bytes: 4_000_000, ok: true, 'odd name': 'x y' },
  { msg: 'quiet', time: '2026-11-24T08:30:00Z' },
];
const batch = batchOf(events, 'pier-4');

function rows(condition: string): number[] {
  const mask = conditionOf(condition).test(batch, { now: arrival, tier: 'rest', fleets: ['piers'] });
  return [...mask].flatMap((held, row) => (held === 1 ? [row] : []));
}

describe('which events a condition picks', () => {
  test.each([
    ['', [0, 1, 2, 3]],
    ['timeout', [0]],
    ['time', []],
    ['time*', [0]],
    ['*out', [0]],
    ['TIMEOUT', [0]],
    ['"connection reset"', [1]],
    ['"nnection res"', [1]],
    ['decl*', [2]],
    ['t*t', [0]],
    ['service = payments', [1, 2]],
    ['service = pay*', [1, 2]],
    ['service = "pay*"', []],
    ['service != payments', [0]],
    ['not service = payments', [0, 3]],
    ['status >= 500', [0]],
    ['status = 404', [1]],
    ['status in (404, 410)', [1]],
    ['status in (5*, 410)', [0]],
    ['status in 500..599', [0]],
    ['status in ..450', [1]],
    ['status in 404..', [0, 1]],
    ['status != 503', [1]],
    ['took > 250ms', [0]],
    ['took < 250ms', []],
    ['bytes in 3MB..5MB', [2]],
    ['bytes = 4MB', [2]],
    ['path = /api/*', [0]],
    ['severity >= warn', [0, 1]],
    ['severity = error', [0]],
    ['severity in (info, warn)', [1, 2]],
    ['user_id matches /^u\\d{5}$/i', [1]],
    ['has user_id', [1]],
    ['ok = true', [2]],
    ['ok = no', [0]],
    ['`odd name` = "x y"', [2]],
    ['source = pier-*', [0, 1, 2, 3]],
    ['source = elsewhere', []],
    ['tier = rest', [0, 1, 2, 3]],
    ['fleet = piers', [0, 1, 2, 3]],
    ['time < -15m', [3]],
    ['time in 2026-11-24T08:00..2026-11-24T08:45', [3]],
    ['service = payments (status = 404 or bytes > 1MB) not path = /health*', [2]],
    ['timeout or quiet', [0, 3]],
    ['# a comment\nquiet', [3]],
    ['quiet\n# service = nothing', [3]],
    ['SERVICE = payments', [1, 2]],
    // An absent value is neither equal nor different; not picks what has none.
    ['took != 1', [0]],
    ['not took = 1', [0, 1, 2, 3]],
    ['not has took', [1, 2, 3]],
    // A field of two types is compared as each.
    ['status matches /^[45]0/', [0, 1]],
    ['status = "404"', [1]],
    ['status = 5*', [0]],
    ['ok != true', [0]],
    ['ok > 0', []],
    ['severity > error', []],
    ['severity <= warn', [1, 2, 3]],
    ['severity in warn..', [0, 1]],
    ['body matches /^declined/', [2]],
    ['body = quiet', [3]],
    ['emitter = gate-1', []],
    ['nothing = 1', []],
    ['not nothing = 1', [0, 1, 2, 3]],
    ['service >= booking-api service < payments', [0]],
    ['source = elsewhere or status = 503', [0]],
    ['source = pier-4 status = 503', [0]],
    ['source = elsewhere status = 503', []],
  ])('%s', (condition, expected) => {
    expect(rows(condition)).toEqual(expected);
  });
});

test('a word in the bodies is found exactly where a slow search finds it', () => {
  const letters = fc.string({ unit: fc.constantFrom(...'abcAB _-'), maxLength: 24 });
  fc.assert(
    fc.property(
      fc.array(letters, { minLength: 1, maxLength: 30 }),
      fc.string({ unit: fc.constantFrom(...'abc'), minLength: 1, maxLength: 4 }),
      (bodies, word) => {
        const some = batchOf(bodies.map((msg) => ({ msg })));
        const found = [...conditionOf(word).test(some, { now: arrival })];
        const slow = new RegExp(`(?<![A-Za-z0-9_])${word}(?![A-Za-z0-9_])`, 'i');
        expect(found).toEqual(bodies.map((body) => (slow.test(body) ? 1 : 0)));
      },
    ),
    { numRuns: 1_000 },
  );
});

describe('shapes', () => {
  const shaped = (...ids: readonly string[]) => ({
    ...batchOf(ids.map((_, n) => ({ n }))),
    shape: textColumn(ids),
  });

  test.each(['5e3kdm2h1x', '0123456789', '12ms45zzzz', 'abcdefghjk', 'orandnot00', '00000000in'])(
    'are compared as texts, whatever their ids look like: %s',
    (id) => {
      for (const text of [`shape = ${id}`, `shape in (${id}, zzz)`, `has shape not shape = "other"`])
        expect([...conditionOf(text).test(shaped(id, 'other'), { now: arrival })]).toEqual([1, 0]);
    },
  );

  test('are found under the ids that they ever had', () => {
    const currentShape = (id: string): string => (id === 'old' ? 'new' : id);
    const found = (text: string) => [
      ...conditionOf(text).test(shaped('old', 'new', 'x'), { now: arrival, currentShape }),
    ];
    expect(found('shape = old')).toEqual([1, 1, 0]);
    expect(found('shape in (NEW)')).toEqual([1, 1, 0]);
    expect(found('shape != old')).toEqual([0, 0, 1]);
  });

  test('events of which no shape is known have none', () => {
    expect([...conditionOf('not has shape').test(batchOf([{ n: 1 }]), { now: arrival })]).toEqual([1]);
  });
});
