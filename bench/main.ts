import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../engine/testing/ports.ts';
import { startDatabase } from '../scripts/database.mjs';
import { filterRow, pipelineRow, storedRow, templateRows } from './core-rows.ts';
import { writeLines } from './events.ts';
import { healthCostRows } from './health-cost.ts';
import { healthRows } from './health-rows.ts';
import type { Row } from './measure.ts';
import { storeRows } from './store-rows.ts';

const json = process.argv.includes('--json');
const folder = mkdtempSync(join(tmpdir(), 'otter-bench-'));
const say = (text: string): void => {
  if (!json) console.log(text);
};

let most = 0;
const rows: Row[] = [];
try {
  say('Writing a million events …');
  const file = join(folder, 'events.jsonl');
  await writeLines(file);
  rows.push(await pipelineRow(), ...(await templateRows()), storedRow(), await filterRow(file), ...healthRows());
  const port = await freePort();
  const database = await startDatabase(folder, port, { rights: '*.*' });
  say('Loading the engine and its peers …');
  try {
    rows.push(...(await healthCostRows(database.server)));
    rows.push(...(await storeRows(database.server, file, (bytes) => (most = Math.max(most, bytes)))));
  } finally {
    await database.stop();
  }
} finally {
  rmSync(folder, { recursive: true, force: true });
}
rows.push({ id: 'engine memory, as a part of 1 GB', ours: most, peer: 1e9, ratio: 1e9 / most, floor: 1 });
if (json) console.log(JSON.stringify(rows, null, 1));
else {
  for (const row of rows) {
    const good = row.ratio >= row.floor ? '✓' : '✕';
    console.log(`${good} ${row.id.padEnd(62)} ${row.ratio.toFixed(2).padStart(8)}  floor ${row.floor}`);
  }
}
if (rows.some((row) => row.ratio < row.floor)) process.exitCode = 1;
