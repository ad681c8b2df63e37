import { describe, expect, test } from 'vitest';
import { day, hour, minute, second } from '../events/time-units.ts';
import { runWorld } from '../testing/emitter-world.ts';
import { arrivalsOf } from './arrivals.ts';
import { type CauseMember, silentGroups } from './common-cause.ts';
import { expectationOf, learn, newRhythm } from './rhythm.ts';
import { healthOf } from './state.ts';

const monday = Date.UTC(2026, 10, 2);

/** A rhythm that has learnt arrivals at some times, a delivery an hour. */
function rhythmOf(times: readonly number[]) {
  const rhythm = newRhythm(times[0] as number);
  for (let start = times[0] as number, i = 0; i < times.length; start += hour) {
    const part: number[] = [];
    while (i < times.length && (times[i] as number) < start + hour) part.push(times[i++] as number);
    if (part.length > 0) learn(rhythm, arrivalsOf(part));
  }
  return rhythm;
}

function every(interval: number, from: number, to: number, keep: (time: number) => boolean = () => true): number[] {
  const times: number[] = [];
  for (let time = from; time < to; time += interval) if (keep(time)) times.push(time);
  return times;
}

const none = { retired: false };

describe('an emitter judged by its own rhythm', () => {
  test('one that reports every 16 s is late, then silent, and says why', () => {
    const end = monday + 2 * day;
    const rhythm = rhythmOf(every(16 * second, monday, end));
    const last = rhythm.last;
    expect(healthOf(rhythm, last + 10 * second, none).state).toBe('steady');
    expect(healthOf(rhythm, last + 21 * second, none).state).toBe('late');
    const silent = healthOf(rhythm, last + 9 * minute, none);
    expect(silent).toMatchObject({ state: 'silent', since: last });
    expect(silent.reason).toMatch(/^reports every 16 s; nothing for 9 min; expected within (2\d|3\d)(\.\d)? s$/);
  });

  test('bursts do not change what is expected', () => {
    const times = every(minute, monday, monday + 2 * day).flatMap((time) => [time, time + 5, time + 9, time + 12]);
    const interval = expectationOf(rhythmOf(times))?.interval ?? 0;
    expect(interval / minute).toBeGreaterThan(0.85);
    expect(interval / minute).toBeLessThan(1.15);
  });

  test('nights and weekends off are no silence, an outage by day is', () => {
    const works = (time: number) => {
      const hourOfDay = (time % day) / hour;
      return hourOfDay >= 6 && hourOfDay < 22 && ![0, 6].includes(new Date(time).getUTCDay());
    };
    const until = monday + 9 * day + 12 * hour;
    const rhythm = rhythmOf(every(30 * second, monday, until, works));
    expect(healthOf(rhythm, until + 5 * minute, none).state).toBe('silent');
    const friday = monday + 11 * day + 21.99 * hour;
    const rested = rhythmOf(every(30 * second, monday, friday, works));
    expect(healthOf(rested, friday + 8 * hour, none).state).toBe('steady');
    expect(healthOf(rested, friday + 40 * hour, none).reason).toContain('it rests at this time of the week');
  });

  test('what is known of plans goes before: retired, under maintenance, expected back', () => {
    const rhythm = rhythmOf(every(minute, monday, monday + 2 * day));
    const later = rhythm.last + hour;
    expect(healthOf(rhythm, later, { retired: true }).state).toBe('retired');
    expect(healthOf(rhythm, later, { retired: false, maintenanceUntil: later + hour }).state).toBe('maintenance');
    expect(healthOf(rhythm, later, { retired: false, expectedBack: later + hour }).state).toBe('maintenance');
    expect(healthOf(rhythm, later, { retired: false, expectedBack: later - 1 }).state).toBe('silent');
  });

  test('a first day is new, late at most, and what was heard too little of is new as well', () => {
    expect(healthOf(rhythmOf(every(minute, monday, monday + hour)), monday + hour, none).state).toBe('new');
    expect(healthOf(rhythmOf(every(minute, monday, monday + hour)), monday + 5 * hour, none).state).toBe('late');
    expect(healthOf(rhythmOf([monday]), monday + 50 * hour, none).reason).toContain('its rhythm is not known yet');
  });

  test('an outage is not learnt as a habit, gaps that keep coming back are', () => {
    const outage = every(
      minute,
      monday,
      monday + 4 * day,
      (time) => time < monday + 2 * day || time > monday + 2 * day + 5 * hour,
    );
    expect((expectationOf(rhythmOf(outage))?.silent ?? 0) / minute).toBeLessThan(3);
    const pauses = every(minute, monday, monday + 4 * day, (time) => (time - monday) % (3.7 * hour) > 20 * minute);
    expect((expectationOf(rhythmOf(pauses))?.silent ?? 0) / minute).toBeGreaterThan(20);
  });
});

describe('emitters that fell silent together', () => {
  const member = (name: string, traits: Record<string, string>, silent: boolean, lastHeard = monday): CauseMember => ({
    source: 'gates',
    emitter: name,
    traits: new Map(Object.entries({ source: 'gates', ...traits })),
    silent,
    lastHeard,
    due: lastHeard + minute,
  });

  test('are reported under what they share and others lack, the narrowest first', () => {
    const members = Array.from({ length: 18 }, (_, i) =>
      member(
        `g${i}`,
        { pier: String(i % 3), network: i % 3 === 2 ? 'b' : 'a', firmware: i % 2 ? '5.0' : '5.1' },
        i % 3 === 1,
      ),
    );
    const [group, ...others] = silentGroups(members);
    expect(others).toEqual([]);
    expect(group?.members).toHaveLength(6);
    expect(group?.causes[0]).toMatchObject({ trait: 'pier', value: '1', silent: 6, all: 6 });
    expect(group?.causes[0]?.sure).toBeGreaterThan(0.9);
  });

  test('at different times are different groups, and one alone stands alone', () => {
    const members = [
      ...[0, 1, 2].map((i) => member(`a${i}`, { pier: '1' }, true)),
      ...[0, 1, 2].map((i) => member(`b${i}`, { pier: '2' }, true, monday + 3 * hour)),
      member('c', { pier: '3' }, true, monday + 9 * hour),
      ...Array.from({ length: 12 }, (_, i) => member(`d${i}`, { pier: '4' }, false)),
    ];
    expect(silentGroups(members).map((group) => [group.members.length, group.causes[0]?.value])).toEqual([
      [3, '1'],
      [3, '2'],
      [1, undefined],
    ]);
  });
});

test('a small world: silences are noticed in time, causes are named rightly, and no alarm is false', () => {
  const world = runWorld(80, 3, 3);
  expect(world.falseAlarms).toBe(0);
  expect(world.noticed).toBe(world.silenced);
  expect(world.longestDelay).toBeLessThanOrEqual(3);
  expect(world.outagesFound).toBe(3);
});
