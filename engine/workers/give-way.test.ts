import { once } from 'node:events';
import { readFileSync } from 'node:fs';
import { getPriority } from 'node:os';
import { Worker } from 'node:worker_threads';
import { build } from 'esbuild';
import { expect, test } from 'vitest';

test.runIf(process.platform === 'linux')('only the thread that asks gives way', async () => {
  const before = getPriority();
  const { outputFiles } = await build({
    stdin: {
      contents: `
        import { parentPort } from 'node:worker_threads';
        import { readFileSync } from 'node:fs';
        import { giveWay } from './give-way.ts';
        giveWay(7);
        parentPort.postMessage(readFileSync('/proc/thread-self/stat', 'utf8'));`,
      resolveDir: import.meta.dirname,
      loader: 'ts',
    },
    ...{ bundle: true, platform: 'node', format: 'esm', write: false },
  });
  const [file] = outputFiles;
  const worker = new Worker(
    new URL(`data:text/javascript;base64,${Buffer.from(file?.contents ?? '').toString('base64')}`),
  );
  const [stat]: string[] = await once(worker, 'message');
  // proc(5): the niceness is field 19, the 17th behind the name in brackets.
  const nicenessIn = (line: string): number => Number(line.slice(line.lastIndexOf(')') + 2).split(' ')[16]);
  expect(nicenessIn(stat ?? '')).toBe(before + 7);
  expect(nicenessIn(readFileSync('/proc/self/stat', 'utf8'))).toBe(before);
  await worker.terminate();
});
