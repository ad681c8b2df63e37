import { describe, expect, test } from 'vitest';
import { awayUntil, openUntil } from './away.ts';

const at = (text: string): number => Date.parse(`2026-11-${text}Z`);
const none = { id: 1, title: 'Works', scope: '', from: at('20T00:00'), to: null, schedule: '', length: 0 };

describe('a window is open', () => {
  test('once, from its begin until its end', () => {
    const window = { ...none, from: at('24T09:00'), to: at('24T10:00') };
    expect(openUntil(window, at('24T08:59'))).toBeUndefined();
    expect(openUntil(window, at('24T09:00'))).toBe(at('24T10:00'));
    expect(openUntil(window, at('24T10:00'))).toBeUndefined();
  });

  test('again and again, for its length, until its last moment', () => {
    const window = { ...none, schedule: '0 2 * * 2', length: 2 * 3_600_000, to: at('25T00:00') };
    expect(openUntil(window, at('24T01:59'))).toBeUndefined();
    expect(openUntil(window, at('24T02:00'))).toBe(at('24T04:00'));
    expect(openUntil(window, at('24T03:59'))).toBe(at('24T04:00'));
    expect(openUntil(window, at('24T04:00'))).toBeUndefined();
    expect(openUntil(window, Date.parse('2026-12-01T02:30Z'))).toBeUndefined();
  });
});

describe('a subject is away', () => {
  const subject = { source: 'gates', emitter: 'gate-4-1', labels: { site: 'pier-4' }, fleets: ['piers'] };
  const open = { ...none, from: at('24T09:00'), to: at('24T10:00') };
  const now = at('24T09:30');

  test.each([
    'source = gates',
    'emitter = gate-4-*',
    'site = pier-4',
    'fleet = piers',
    'source = gates and not emitter = gate-5-1',
  ])('where %s takes it in', (scope) => {
    expect(awayUntil([{ ...open, scope }], subject, now)).toBe(at('24T10:00'));
  });

  test.each(['source = tides', 'emitter = gate-5-*', 'site = pier-5', 'fleet = vessels', 'site ='])(
    'but not where %s does not',
    (scope) => {
      expect(awayUntil([{ ...open, scope }], subject, now)).toBeUndefined();
    },
  );

  test('until the last of its windows ends', () => {
    const longer = { ...open, scope: 'source = gates', to: at('24T12:00') };
    expect(awayUntil([{ ...open, scope: 'source = gates' }, longer], subject, now)).toBe(at('24T12:00'));
  });
});
