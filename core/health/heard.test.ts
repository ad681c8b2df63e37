import { describe, expect, test } from 'vitest';
import { day, hour, minute } from '../events/time-units.ts';
import { arrivalsOf } from './arrivals.ts';
import { type HeardEmitter, heardByHour } from './heard.ts';
import { learn, newRhythm } from './rhythm.ts';

/** A Monday. */
const start = Date.UTC(2026, 10, 9);

/** An emitter that reports every so often, where `works` says so. */
function emitter(name: string, every: number, until: number, works = (_time: number) => true): HeardEmitter {
  const rhythm = newRhythm(start);
  for (let time = start; time < until; time += every) if (works(time)) learn(rhythm, arrivalsOf([time]));
  return { name, rhythm, retired: false };
}

const everyone = (...names: string[]) =>
  new Map(Array.from({ length: 15 * 24 }, (_, i) => [start + i * hour, new Set(names)]));

describe('who was heard', () => {
  test('an emitter that stopped is missing from then on, and not before it was first heard', () => {
    const emitters = [emitter('a', minute, start + 5 * day), emitter('b', minute, start + 3 * day)];
    const heardIn = everyone('a');
    for (const [time, names] of heardIn) if (time < start + 3 * day) names.add('b');
    const hours = heardByHour(emitters, heardIn, start - 2 * hour, start + 4 * day);
    expect(hours).toHaveLength(4 * 24 + 2);
    expect(hours.slice(2, 2 + 72).every(({ heard, missing }) => heard === 2 && missing === 0)).toBe(true);
    expect(hours.slice(74).every(({ heard, missing }) => heard === 1 && missing === 1)).toBe(true);
    expect(hours[0]?.missing).toBe(0);
  });

  test('nights off, rare reports and the retired are not missed', () => {
    const byDay = (time: number): boolean => time % day >= 6 * hour && time % day < 20 * hour;
    const emitters = [
      emitter('day', minute, start + 6 * day, byDay),
      emitter('rare', 4 * hour, start + 6 * day),
      { ...emitter('gone', minute, start + 2 * day), retired: true },
    ];
    const night = start + 5 * day;
    expect(heardByHour(emitters, new Map(), night, night + 4 * hour).every(({ missing }) => missing === 0)).toBe(true);
    expect(heardByHour(emitters, new Map(), night + 12 * hour, night + 13 * hour)).toEqual([
      { start: night + 12 * hour, heard: 0, missing: 1 },
    ]);
  });

  test('who reports every few hours is missed once it is overdue, until it comes back', () => {
    const rare = emitter('rare', 4 * hour, start + 6 * day);
    const last = start + 6 * day - 4 * hour;
    const heardIn = new Map([[last + 12 * hour, new Set(['rare'])]]);
    const missing = heardByHour([rare], heardIn, last, last + 14 * hour).map((each) => each.missing);
    expect(missing).toEqual([0, 0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 0, 0]);
  });

  test('the hour that is not over yet counts as far as it went, and the quiet before it counts too', () => {
    const now = start + 2 * day + 30 * minute;
    const busy = emitter('a', minute, start + 2 * day - 10 * minute);
    const [last] = heardByHour([busy], new Map(), now - 1, now);
    expect(last).toEqual({ start: start + 2 * day, heard: 0, missing: 1 });
    expect(heardByHour([busy], new Map(), now - 31 * minute, now - 29.5 * minute)).toEqual([
      { start: start + 2 * day - hour, heard: 1, missing: 0 },
      { start: start + 2 * day, heard: 0, missing: 1 },
    ]);
    const fresh = emitter('b', minute, start + 2 * day);
    expect(heardByHour([fresh], new Map(), now - 31 * minute, now - 29.5 * minute)[1]?.missing).toBe(0);
  });
});
