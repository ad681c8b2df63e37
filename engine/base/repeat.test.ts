import { expect, test } from 'vitest';
import { openLog } from './log.ts';
import { onBeat, pauseAfter, pauseAfterFailures, type Repeated, repeat } from './repeat.ts';

test('work that takes longer is done less often, within bounds', () => {
  const pause = { least: 2_000, most: 8_000, times: 50 };
  const after = [0, 30, 80, 160, 5_000].map((took) => pauseAfter(pause, { took, wasBusy: true }));
  expect(after).toEqual([2_000, 2_000, 4_000, 8_000, 8_000]);
  expect(pauseAfter(500, { took: 5_000, wasBusy: true })).toBe(500);
});

test('after a turn that had something to do more may come together', () => {
  const pause = { least: 2_000, most: 8_000, times: 50, busy: 5_000 };
  expect([0, 160].map((took) => pauseAfter(pause, { took, wasBusy: false }))).toEqual([2_000, 8_000]);
  expect([0, 160].map((took) => pauseAfter(pause, { took, wasBusy: true }))).toEqual([5_000, 8_000]);
});

test('a backlog is worked off by a fifth of the time', () => {
  const pause = { least: 20_000, most: 20_000, times: 1, more: 1_000 };
  const after = [10, 900].map((took) => pauseAfter(pause, { took, wasBusy: true, hasMore: true }));
  expect(after).toEqual([1_000, 3_600]);
  expect(pauseAfter(pause, { took: 10, wasBusy: false })).toBe(20_000);
});

test('turns of all tasks fall on the same beats, those that come more often do not', () => {
  for (const now of [1_000.4, 1_013, 1_249, 1_251, 1_499.7])
    for (const wait of [500, 1_000, 2_600]) {
      const begins = now + onBeat(now, wait);
      expect(Math.abs(begins - Math.round(begins / 500) * 500)).toBeLessThanOrEqual(1);
      expect(Math.abs(begins - now - wait)).toBeLessThanOrEqual(251);
    }
  expect(onBeat(1_013, 20)).toBe(20);
});

test('work that fails is done again, and is over once it was stopped', async () => {
  let turns = 0;
  let repeated: Repeated | undefined;
  await new Promise<void>((thrice) => {
    repeated = repeat({ least: 1, most: 1, times: 1 }, openLog('silent'), async () => {
      turns++;
      if (turns < 3) throw new Error('not yet');
      thrice();
    });
  });
  await repeated?.stop();
  const stopped = turns;
  await new Promise((resolve) => setImmediate(resolve));
  expect(turns).toBe(stopped);
});

test('pauses grow while work fails, to four times their length and up to a minute', () => {
  expect([1, 2, 3, 9].map((failures) => pauseAfterFailures(500, failures))).toEqual([500, 1_000, 1_500, 2_000]);
  expect([1, 9].map((failures) => pauseAfterFailures(30_000, failures))).toEqual([30_000, 60_000]);
  expect(pauseAfterFailures(600_000, 9)).toBe(600_000);
});

test('whoever wants to know gets each failure', async () => {
  let failures = 0;
  let repeated: Repeated | undefined;
  await new Promise<void>((twice) => {
    const work = (): Promise<never> => Promise.reject(new Error('not now'));
    const onFailure = (): void => {
      if (++failures === 2) twice();
    };
    repeated = repeat(1, openLog('silent'), work, { name: 'a test', onFailure });
  });
  await repeated?.stop();
  expect(failures).toBeGreaterThanOrEqual(2);
});
