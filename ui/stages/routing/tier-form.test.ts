import { describe, expect, test } from 'vitest';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import { capFields, capOf, exclusionFields, exclusionOf, exclusionShape, keepByTitle, tierShape } from './tier-form.ts';

const others: readonly TierDocument[] = [{ id: 'rest', title: 'Rest', keep: '7d' }];
const tier = { title: 'Incidents', when: 'severity >= error', keep: '30d', cap: '', zone: 'UTC', over: 'passing' };
const exclusion = {
  title: 'Probes',
  when: 'path = /health',
  share: 'none',
  n: '10',
  by: '',
  until: '',
  reason: '',
  owner: '',
};

describe('a tier', () => {
  test.each([
    [{}, undefined],
    [{ keep: '-3d' }, /A duration of a minute or more/],
    [{ keep: '0d' }, /A duration of a minute or more/],
    [{ keep: '15' }, /with its unit/],
    [{ keep: '' }, /Enter a duration/],
    [{ when: 'severity >=' }, /the condition is wrong: .*character/],
    [{ title: ' ' }, /Enter a title/],
    [{ title: 'rest ' }, /Another t.* has this title/],
    [{ cap: '2' }, /An amount such as 2 GB/],
    [{ cap: '-1 GB' }, /An amount such as 2 GB/],
  ])('with %j says %s', (more, message) => {
    const check = () => tierShape(others).validateSync({ ...tier, ...more });
    if (message) expect(check).toThrow(message);
    else expect(check()).toEqual(tier);
  });
});

test('a cap is what its fields say, and back', () => {
  const caps = [
    undefined,
    { day: '2 GB', over: 'passing' },
    { day: '5000 events', zone: 'Europe/Oslo', over: 'sample' },
    { day: '1 MB', over: { tier: 'rest' } },
  ] as const;
  for (const cap of caps) expect(capOf({ ...tier, ...capFields(cap) })).toEqual(cap);
});

test('what a title says of the days is offered where it is not so yet', () => {
  expect(keepByTitle('Incidents, 30 days', '7d')).toBe('30d');
  expect(keepByTitle('Incidents 30d', '720h')).toBeUndefined();
  expect(keepByTitle('Incidents', '7d')).toBeUndefined();
  expect(keepByTitle('Gate 7', '7d')).toBeUndefined();
});

describe('an exclusion', () => {
  test.each([
    [{ when: '' }, /Enter a condition/],
    [{ when: 'path = ' }, /the condition is wrong/],
    [{ share: 'sample', n: '1' }, /A whole number from 2/],
    [{ share: 'sample', n: '2.5' }, /A whole number from 2/],
    [{ title: 'Pings' }, /Another t.* has this title/],
    [{ until: 'friday' }, /A time such as/],
  ])('with %j says %s', (more, message) => {
    const fields = { ...exclusion, ...more };
    const known = [{ id: 'pings', title: 'pings', when: 'ping', keep: 'none' }];
    expect(() => exclusionShape(known, fields.share).validateSync(fields)).toThrow(message);
  });

  test('is what its fields say, and back', () => {
    const sampled = {
      id: 'some',
      title: 'Some',
      when: 'a = b',
      keep: '1 in 20',
      by: 'booking',
      until: '2026-11-27T18:00:00Z',
      reason: 'R',
      owner: 'O',
    };
    expect(exclusionOf('some', exclusionFields(sampled))).toEqual(sampled);
    expect(exclusionOf('probes', exclusion)).toEqual({
      id: 'probes',
      title: 'Probes',
      when: 'path = /health',
      keep: 'none',
    });
    // A duration counts from now.
    const soon = exclusionOf('probes', { ...exclusion, until: '2h' }).until ?? '';
    expect(Math.abs(Date.parse(soon) - Date.now() - 7_200_000)).toBeLessThan(60_000);
    // What events are kept together by says nothing where all or none are kept.
    expect(exclusionOf('some', { ...exclusionFields(sampled), share: 'all' })).toEqual({
      ...sampled,
      keep: 'all',
      by: undefined,
    });
    expect(exclusionFields(undefined).share).toBe('none');
  });
});
