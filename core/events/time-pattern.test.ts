import { addDays, format } from 'date-fns';
import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { encode } from './text-table.ts';
import { compileTimePattern, zoneOffset } from './time-pattern.ts';

const reference = Date.UTC(2026, 10, 24, 9);

function read(pattern: string, text: string, zone?: string): string | undefined {
  const compiled = compileTimePattern(pattern, zone);
  if (!compiled.ok) throw new Error(compiled.message);
  const bytes = encode(text);
  const time = compiled.read(bytes, 0, bytes.length, reference);
  return Number.isNaN(time) ? undefined : new Date(time).toISOString();
}

describe('times by pattern', () => {
  test.each([
    ['yyyy-MM-dd HH:mm:ss', '2026-11-24 08:07:06', '2026-11-24T08:07:06.000Z'],
    ['dd.MM.yy H:mm', '24.11.26 8:07', '2026-11-24T08:07:00.000Z'],
    ['d MMM yyyy hh:mm:ss a', '4 Nov 2026 12:00:01 AM', '2026-11-04T00:00:01.000Z'],
    ['d MMM yyyy hh:mm:ss a', '4 Nov 2026 12:00:01 PM', '2026-11-04T12:00:01.000Z'],
    ['yyyy-MM-dd HH:mm:ss.S', '2026-11-24 08:07:06.25', '2026-11-24T08:07:06.250Z'],
    ['yyyy-MM-dd HH:mm:ss Z', '2026-11-24 08:07:06 +0200', '2026-11-24T06:07:06.000Z'],
    ['yyyy-MM-dd HH:mm:ss Z', '2026-11-24 08:07:06 -03:30', '2026-11-24T11:37:06.000Z'],
    ["'on' yyyy/MM/dd 'at' HH", 'on 2026/11/24 at 08', '2026-11-24T08:00:00.000Z'],
    ['MMM d HH:mm:ss', 'Dec 31 23:59:59', '2025-12-31T23:59:59.000Z'],
    ['MMM d HH:mm:ss', 'Jan 2 00:00:01', '2026-01-02T00:00:01.000Z'],
  ])('%s reads %s', (pattern, text, expected) => {
    expect(read(pattern, text)).toBe(expected);
  });

  test.each([
    ['yyyy-MM-dd HH:mm:ss', '2026-11-24 08:07'],
    ['yyyy-MM-dd HH:mm:ss', '2026-13-24 08:07:06'],
    ['yyyy-MM-dd HH:mm:ss', '2026-11-24 25:07:06'],
    ['yyyy-MM-dd HH:mm:ss', '2026-11-24 08:07:06 and more'],
    ['d MMM yyyy', '4 Nonsense 2026'],
  ])('%s does not read %s', (pattern, text) => {
    expect(read(pattern, text)).toBeUndefined();
  });

  test('what another formatter writes is read', () => {
    fc.assert(
      fc.property(fc.integer({ min: -4_000, max: 4_000 }), fc.integer({ min: 0, max: 86_399 }), (days, seconds) => {
        const time = addDays(reference, days).getTime() + seconds * 1000;
        const local = time + new Date(time).getTimezoneOffset() * 60_000;
        expect(read('dd/MM/yyyy HH:mm:ss', format(local, 'dd/MM/yyyy HH:mm:ss'))).toBe(new Date(time).toISOString());
      }),
    );
  });
});

describe('zones', () => {
  const pattern = 'yyyy-MM-dd HH:mm:ss';

  test.each([
    ['+02:00', '2026-11-24 08:00:00', '2026-11-24T06:00:00.000Z'],
    ['Europe/Oslo', '2026-11-24 08:00:00', '2026-11-24T07:00:00.000Z'],
    ['Europe/Oslo', '2026-07-24 08:00:00', '2026-07-24T06:00:00.000Z'],
    // The hour that summer time skips, and the one that it repeats.
    ['Europe/Oslo', '2026-03-29 03:00:00', '2026-03-29T01:00:00.000Z'],
    ['Europe/Oslo', '2026-10-25 03:30:00', '2026-10-25T02:30:00.000Z'],
  ])('%s: %s', (zone, text, expected) => {
    expect(read(pattern, text, zone)).toBe(expected);
  });

  test('one that is unknown is reported', () => {
    expect(zoneOffset('Skerry/Pier')).toBeUndefined();
    expect(compileTimePattern(pattern, 'Skerry/Pier')).toMatchObject({ ok: false });
  });
});

test.each(['', 'yyyy-MM-dd QQ', "yyyy 'open"])('the pattern %j is refused', (pattern) => {
  expect(compileTimePattern(pattern).ok).toBe(false);
});
