import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../engine/testing/ports.ts';
import { startDatabase } from '../scripts/database.mjs';
import { arrivalsRows } from './arrivals-rows.ts';
import { filterRow, pipelineRows, storedRow, templateRows } from './core-rows.ts';
import { costRows } from './cost-rows.ts';
import { writeLines } from './events.ts';
import { exploreRows } from './explore-rows.ts';
import { exportRows } from './export-rows.ts';
import { healthCostRow, healthPageRow } from './health-cost.ts';
import { healthRows } from './health-rows.ts';
import type { Row } from './measure.ts';
import { metricRows } from './metric-rows.ts';
import { neighbourRows } from './neighbour-rows.ts';
import { pageRows } from './page-rows.ts';
import { rehearsalRows } from './rehearsal-rows.ts';
import { rehearsalSpeedRows } from './rehearsal-speed.ts';
import { restRows } from './rest-rows.ts';
import { shapeRows } from './shape-rows.ts';
import { storeRows } from './store-rows.ts';
import { talkerRows } from './talker-rows.ts';
import { whyRows } from './why-rows.ts';

const json = process.argv.includes('--json');
/** `core`, `health`, `shapes`, `arrivals`, `metrics`, `talkers`, `costs`, `store`, `export`, `neighbours`, `rest`, `pages`, `rehearsal`, `why` or `explore`: only these rows; all of them where none is named. */
const parts = process.argv.slice(2).filter((option) => !option.startsWith('--'));
const isWanted = (part: string): boolean => parts.length === 0 || parts.includes(part);
const folder = mkdtempSync(join(tmpdir(), 'otter-bench-'));
const say = (text: string): void => {
  if (!json) console.log(text);
};

let most = 0;
const rows: Row[] = [];
/** Keeps rows for the end, and says them at once: what comes later may fail. */
const add = (...found: readonly Row[]): void => {
  rows.push(...found);
  for (const { id, ratio, floor } of found)
    say(`${ratio >= floor ? '✓' : '✕'} ${id.padEnd(62)} ${ratio.toFixed(2).padStart(8)}  floor ${floor}`);
};
try {
  say('Writing a million events …');
  const file = join(folder, 'events.jsonl');
  if (isWanted('core') || isWanted('store')) await writeLines(file);
  if (isWanted('core'))
    add(...(await pipelineRows()), ...(await templateRows()), storedRow(), await filterRow(file), ...healthRows());
  if (isWanted('health')) add(await healthCostRow());
  if (isWanted('rest')) add(...(await restRows(folder)));
  if (isWanted('pages')) add(...(await pageRows(folder)));
  if (isWanted('shapes')) add(...(await shapeRows()));
  if (isWanted('rehearsal')) add(...rehearsalRows(say));
  const port = await freePort();
  const database = await startDatabase(folder, port, { rights: '*.*' });
  say('Loading the engine and its peers …');
  try {
    if (isWanted('health')) add(await healthPageRow(database.server));
    if (isWanted('arrivals')) add(...(await arrivalsRows(database.server)));
    if (isWanted('metrics')) add(...(await metricRows(database.server, folder)));
    if (isWanted('talkers')) add(...(await talkerRows(database.server)));
    if (isWanted('costs')) add(...(await costRows(database.server)));
    if (isWanted('store')) add(...(await storeRows(database.server, file, (bytes) => (most = Math.max(most, bytes)))));
    if (isWanted('neighbours')) add(...(await neighbourRows(database.server)));
    if (isWanted('export')) add(...(await exportRows(database.server)));
    if (isWanted('rehearsal')) add(...(await rehearsalSpeedRows(database.server, say)));
    if (isWanted('why')) add(...(await whyRows(database.server, say)));
    if (isWanted('explore')) add(...(await exploreRows(database.server, join(folder, 'week.jsonl'), say)));
  } finally {
    await database.stop();
  }
} finally {
  rmSync(folder, { recursive: true, force: true });
}
if (most > 0) add({ id: 'engine memory, as a part of 1 GB', ours: most, peer: 1e9, ratio: 1e9 / most, floor: 1 });
if (json) console.log(JSON.stringify(rows, null, 1));
if (rows.some((row) => row.ratio < row.floor)) process.exitCode = 1;
