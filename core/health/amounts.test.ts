import { describe, expect, test } from 'vitest';
import { hour, minute } from '../events/time-units.ts';
import { HourVolumes } from './hour-volumes.ts';
import { RecentRates } from './recent-rates.ts';

const start = Date.UTC(2026, 10, 24, 9);

describe('rates of the last minute', () => {
  test('are a minute’s amount a second, each place for itself', () => {
    const rates = new RecentRates();
    rates.add(0, start, 60, 6_000);
    rates.add(1_000, start + 30_000, 120, 600);
    expect(rates.rate(0, start + 59_999)).toEqual({ events: 1, bytes: 100 });
    expect(rates.rate(1_000, start + 59_999)).toEqual({ events: 2, bytes: 10 });
    expect(rates.rate(7, start + 59_999)).toEqual({ events: 0, bytes: 0 });
    expect(rates.rate(5_000, start + 59_999)).toEqual({ events: 0, bytes: 0 });
  });

  test('forget what is older, also after a long rest', () => {
    const rates = new RecentRates();
    rates.add(0, start, 60, 60);
    rates.add(0, start + 55_000, 60, 60);
    expect(rates.rate(0, start + minute)).toEqual({ events: 1, bytes: 1 });
    expect(rates.rate(0, start + 3 * hour)).toEqual({ events: 0, bytes: 0 });
  });

  test('a clock that was set back counts to the latest slot', () => {
    const rates = new RecentRates();
    rates.add(0, start, 60, 60);
    rates.add(0, start - hour, 60, 60);
    expect(rates.rate(0, start)).toEqual({ events: 2, bytes: 2 });
  });
});

test('volumes are added up by place and hour', () => {
  const volumes = new HourVolumes();
  volumes.add(3, start, 1, 10);
  volumes.add(3, start + hour - 1, 2, 20);
  volumes.add(3, start + hour, 4, 40);
  volumes.add(200, start, 8, 80);
  volumes.add(3, start - 48 * hour, 16, 160);
  volumes.add(3, start - 48 * hour + 1, 32, 320);
  volumes.add(3, start + 1, 64, 640);
  const listed = [...volumes.list()].sort((a, b) => a.start - b.start || a.place - b.place);
  expect(listed).toEqual([
    { start: start - 48 * hour, place: 3, events: 48, bytes: 480 },
    { start, place: 3, events: 67, bytes: 670 },
    { start, place: 200, events: 8, bytes: 80 },
    { start: start + hour, place: 3, events: 4, bytes: 40 },
  ]);
});

test('a year of history of one of many takes little room', () => {
  const volumes = new HourVolumes();
  const before = process.memoryUsage().arrayBuffers;
  for (let i = 0; i < 9_000; i++) volumes.add(19_999, start + i * hour, 1, 1);
  expect([...volumes.list()]).toHaveLength(9_000);
  expect(process.memoryUsage().arrayBuffers - before).toBeLessThan(50_000_000);
});
