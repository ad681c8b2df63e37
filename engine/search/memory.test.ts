import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { send, startEngine, type TestEngine } from '../testing/engine.ts';

let engine: TestEngine;

beforeAll(async () => {
  process.env.SEARCH_REST = '3s';
  engine = await startEngine(inject('mariadb')).finally(() => delete process.env.SEARCH_REST);
  await engine.source('wide');
});

afterAll(() => engine.stop());

const fields = 60;
const events = 60_000;

/** What the engine measures of itself under a name. */
async function measured(name: string): Promise<number> {
  const text = await (await fetch(`${engine.intake}/metrics`)).text();
  return Number(new RegExp(`^${name} (\\S+)$`, 'm').exec(text)?.[1]);
}

/** Bytes that the engine's process has in memory. */
const memory = (): Promise<number> => measured('otter_memory_bytes');

/** Has every column of every event be opened. */
async function searchAll(): Promise<number> {
  const figures = Array.from({ length: fields }, (_, i) => `sum(f${i})`).join(', ');
  const { total, summary } = await engine.search({ condition: 'source = wide', summary: figures, limit: 0 });
  return total * (summary?.rows.length ?? 0);
}

test('the memory that searches took is given back when nobody searches for a while, and searches go on', async () => {
  for (let sent = 0; sent < events; sent += 10_000) {
    const line = (i: number): string =>
      `{${Array.from({ length: fields }, (_, f) => `"f${f}":${((i * 7_919 + f * 104_729) % 1_000_003) / 8}`).join(',')}}`;
    await send(engine, 'wide', Array.from({ length: 10_000 }, (_, i) => line(sent + i)).join('\n'));
  }
  // Merging takes memory too: it is over before what searches take is measured.
  await expect.poll(() => measured('otter_compactions_total'), { timeout: 60_000, interval: 500 }).toBeGreaterThan(0);
  expect(await searchAll()).toBe(events);
  const taken = await memory();
  // Each column has a number of eight bytes for each event.
  const opened = events * fields * 8;
  await expect.poll(async () => taken - (await memory()), { timeout: 90_000, interval: 500 }).toBeGreaterThan(opened);
  expect(await searchAll()).toBe(events);
});
