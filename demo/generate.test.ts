import { describe, expect, test } from 'vitest';
import { encode } from '#core/events/text-table.ts';
import { hour } from '#core/events/time-units.ts';
import { readRecords } from '#core/formats/read.ts';
import { splitLines } from '#core/formats/records.ts';
import { checkPlan } from '#core/plan/check.ts';
import { compilePlan } from '#core/plan/compile.ts';
import { eventsOfHour } from './generate.ts';
import { demoPlan } from './plan.ts';
import { demoSources } from './sources/index.ts';
import { happeningsOf } from './world.ts';

const start = Date.UTC(2026, 10, 24, 12);
const happenings = happeningsOf(start);

function source(name: string) {
  const found = demoSources.find((candidate) => candidate.name === name);
  if (!found) throw new Error(name);
  return found;
}

test('the same hour gives the same events', () => {
  for (const each of demoSources) {
    const events = eventsOfHour(each, start, happenings, 'seed');
    expect(eventsOfHour(each, start, happenings, 'seed')).toEqual(events);
    expect(events.length).toBeGreaterThan(20);
  }
});

test('the plan of the demo is valid', () => {
  expect(checkPlan(demoPlan)).toMatchObject({ ok: true });
});

describe('what there is to be found', () => {
  const parsedShare = (name: string, at: number): number => {
    const lines = eventsOfHour(source(name), at, happenings, 'seed').map(({ line }) => line);
    const { batch } = readRecords(name, splitLines(encode(lines.join('\n'))), 'auto', { received: at, backfill: true });
    const routed = compilePlan(demoPlan).run(batch, { now: at, random: Math.random });
    return routed.batch.parsed.reduce((sum, parsed) => sum + parsed, 0) / batch.rows;
  };

  test('payments lines stop fitting with release 8.3', () => {
    expect(parsedShare('payments', happenings.release - 2 * hour)).toBe(1);
    expect(parsedShare('payments', happenings.release + 2 * hour)).toBeLessThan(0.8);
  });

  test('tide gauges that calibrate say so in lines of their own', () => {
    expect(parsedShare('tides', start)).toBeGreaterThan(0.96);
    expect(parsedShare('tides', start)).toBeLessThan(1);
  });

  test.each(['booking-web', 'berth-planner', 'gates', 'pier-network'])('all lines of %s fit', (name) => {
    expect(parsedShare(name, start)).toBe(1);
  });

  test('debug lines are about a third of the volume', () => {
    const bytes = demoSources.map((each) =>
      eventsOfHour(each, start, happenings, 'seed').reduce((sum, { line }) => sum + line.length, 0),
    );
    const debug = eventsOfHour(source('berth-planner'), start, happenings, 'seed').filter(({ line }) =>
      line.includes('level=debug'),
    );
    const share = debug.reduce((sum, { line }) => sum + line.length, 0) / bytes.reduce((a, b) => a + b, 0);
    expect(share).toBeGreaterThan(0.18);
    expect(share).toBeLessThan(0.45);
  });

  test('the partner polls a hundred times as often', () => {
    const polls = (at: number): number =>
      eventsOfHour(source('timetable'), at, happenings, 'seed').filter(({ line }) => line.includes('harbour-partner'))
        .length;
    expect(polls(happenings.partner + 2 * hour) / polls(happenings.partner - 2 * hour)).toBeGreaterThan(60);
  });

  test('the gates of Pier 4 fall silent', () => {
    const gates = eventsOfHour(source('gates'), start, happenings, 'seed');
    expect(gates.some(({ line }) => line.includes('gate-p4'))).toBe(false);
    expect(gates.some(({ line }) => line.includes('gate-p1'))).toBe(true);
  });
});
