import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { afterEach, expect, test, vi } from 'vitest';
import { stopProcess } from './database.mjs';
import { type StartedPart, supervise } from './supervise.mjs';

const stops: (() => Promise<void>)[] = [];

afterEach(async () => {
  for (const stop of stops.splice(0)) await stop();
  vi.restoreAllMocks();
});

function part(code: string): StartedPart {
  const child = spawn('node', ['-e', code], { stdio: 'ignore' });
  return { child, stop: () => stopProcess(child, 2_000) };
}

test('what ends by itself is started again, with a line that says so; what is stopped is not', async () => {
  const said = vi.spyOn(console, 'error').mockImplementation(() => {});
  const started: StartedPart[] = [];
  const kept = await supervise(
    'The bell',
    async () => {
      const next = part('setInterval(() => {}, 1000)');
      started.push(next);
      return next;
    },
    () => {},
  );
  stops.push(kept.stop);
  started[0]?.child.kill('SIGKILL');
  await expect.poll(() => started.length, { timeout: 10_000 }).toBe(2);
  expect(said.mock.calls.flat()).toEqual(['The bell ended by itself (SIGKILL); it is started again in 0.5 s.']);
  await kept.stop();
  expect(started[1]?.child.signalCode).toBe('SIGTERM');
  expect(started.length).toBe(2);
});

test('what ends again and again is given up, with the reason', async () => {
  vi.spyOn(console, 'error').mockImplementation(() => {});
  vi.spyOn(globalThis, 'setTimeout').mockImplementation((work) => {
    queueMicrotask(work as () => void);
    return {} as NodeJS.Timeout;
  });
  let starts = 0;
  const reason = await new Promise<string>((resolve) => {
    void supervise(
      'The bell',
      async () => {
        starts++;
        const next = part('process.exit(3)');
        await once(next.child, 'exit');
        return next;
      },
      resolve,
    );
  });
  expect(reason).toMatch(/^The bell ended 7 times within 3 minutes, the last time with code 3\.$/);
  expect(starts).toBe(7);
});

test('an obstacle is waited out and counts as no death; it is reported in one line', async () => {
  const said = vi.spyOn(console, 'error').mockImplementation(() => {});
  let obstacle: string | undefined = 'the disk is full';
  const started: StartedPart[] = [];
  const kept = await supervise(
    'The bell',
    async () => {
      const next = part('setInterval(() => {}, 1000)');
      started.push(next);
      return next;
    },
    () => {},
    async () => obstacle,
  );
  stops.push(kept.stop);
  started[0]?.child.kill('SIGABRT');
  await expect.poll(() => said.mock.calls.length, { timeout: 10_000 }).toBe(1);
  expect(started.length).toBe(1);
  obstacle = undefined;
  await expect.poll(() => started.length, { timeout: 10_000 }).toBe(2);
  expect(said.mock.calls.flat()).toEqual([
    'The bell ended (SIGABRT): the disk is full. It is started again once that is over.',
  ]);
});

test('what cannot be started at all is an error at once', async () => {
  await expect(
    supervise(
      'The bell',
      () => Promise.reject(new Error('no bell')),
      () => {},
    ),
  ).rejects.toThrow('no bell');
});
