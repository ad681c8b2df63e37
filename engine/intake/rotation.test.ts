import {
  appendFileSync,
  copyFileSync,
  mkdirSync,
  readdirSync,
  renameSync,
  rmSync,
  truncateSync,
  writeFileSync,
} from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  engine = await startEngine(inject('mariadb'));
});

afterAll(() => engine.stop());

const linesInAll = 50_000;
const rotations = 8;
const rotateEvery = 1_500;
const banner = '# the harbour log of Skerryvoe; all times are UTC; one line an event\n'.repeat(20);

/** Writes numbered lines and rotates its file, as services do, over a backlog of eight files. */
class Writer {
  private next = 0;
  private readonly file: string;

  constructor(
    private readonly folder: string,
    private readonly by: 'rename' | 'copy',
  ) {
    this.file = join(folder, 'harbour.log');
    mkdirSync(folder);
    for (let age = 8; age > 0; age--) writeFileSync(`${this.file}.${age}`, banner + this.lines(3_000));
    writeFileSync(this.file, banner);
  }

  get isDone(): boolean {
    return this.next >= linesInAll;
  }

  private lines(count: number): string {
    const end = Math.min(linesInAll, this.next + count);
    let text = '';
    for (; this.next < end; this.next++)
      text += `line=${this.next} of the harbour log, berth ${this.next % 7} is free\n`;
    return text;
  }

  write(count: number): void {
    appendFileSync(this.file, this.lines(count));
  }

  rotate(): void {
    const ages = readdirSync(this.folder)
      .map((name) => Number(/\.(\d+)$/.exec(name)?.[1] ?? 0))
      .filter((age) => age > 0)
      .sort((a, b) => b - a);
    for (const age of ages) renameSync(`${this.file}.${age}`, `${this.file}.${age + 1}`);
    if (this.by === 'rename') renameSync(this.file, `${this.file}.1`);
    else {
      copyFileSync(this.file, `${this.file}.1`);
      truncateSync(this.file);
    }
    appendFileSync(this.file, banner);
  }
}

async function counts(source: string): Promise<{ total: number; doubled: number }> {
  const condition = `source = ${source} has line`;
  const { total } = await engine.found({ condition, limit: 0 }, linesInAll);
  const summary = 'count() as c by line having c > 1';
  const answer = await engine.search({ condition, summary, limit: 0 });
  return { total, doubled: answer.summary?.rows.length ?? 0 };
}

test.each([
  ['nothing else', false],
  ['the engine killed in between', true],
])(
  'files rotated over a backlog, by renaming and by copying, with %s: each line once',
  async (_, kills) => {
    const suffix = kills ? 'killed' : 'calm';
    await engine.publish({
      plan: 1,
      pipelines: [
        {
          id: 'lines',
          title: 'Lines',
          when: '',
          steps: [{ extract: { from: 'body', template: 'line={line:int} of the harbour log{}' } }],
        },
      ],
      tiers: [{ id: 'rest', title: 'Rest', keep: '7d' }],
    });
    const writers = (['rename', 'copy'] as const).map((by) => {
      const folder = join(engine.folder, `${by}-${suffix}`);
      return { source: `${by}-${suffix}`, folder, writer: new Writer(folder, by) };
    });
    for (const { source, folder } of writers)
      await engine.source(source, {
        kind: 'files',
        format: 'text',
        settings: { globs: [join(folder, 'harbour.log*')] },
      });
    for (let rotation = 0; rotation < rotations; rotation++) {
      for (let piece = 0; piece < 10; piece++) {
        for (const { writer } of writers) writer.write(300);
        await pause(rotateEvery / 10);
      }
      if (kills && rotation % 3 === 1) {
        await engine.kill();
        for (const { writer } of writers) {
          writer.write(200);
          writer.rotate();
          writer.write(200);
        }
        await engine.restart();
      } else for (const { writer } of writers) writer.rotate();
    }
    for (const { writer } of writers) while (!writer.isDone) writer.write(1_000);
    for (const { source } of writers)
      expect([source, await counts(source)]).toEqual([source, { total: linesInAll, doubled: 0 }]);
    for (const { folder } of writers) rmSync(folder, { recursive: true });
  },
  180_000,
);
