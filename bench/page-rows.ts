import { spawn } from 'node:child_process';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Browser, chromium, type Page } from '@playwright/test';
import { sendManyEvents } from '../engine/testing/many-events.ts';
import { freeApplicationPorts } from '../engine/testing/ports.ts';
import { readSettings, startApplication } from '../scripts/application.mjs';
import { calmedDown } from './calmed-down.ts';
import type { Row } from './measure.ts';

/** Within so many milliseconds of the click a stage has its sentence, and its pictures. */
const sentenceWithin = 500;
const picturesWithin = 1_000;
/** How often all stages are gone through. */
const turns = 20;
/** Events added to the two and a half million of the demo. */
const besideTheDemo = 7_800_000;
/** Longest wait for a stage (milliseconds). */
const patience = 15_000;

/** A stage by its name in the navigation, and what its picture is. */
const stages: readonly (readonly [title: string, picture: string])[] = [
  ['Sources', 'main table tbody tr'],
  ['Parsing', 'main a[href^="/parsing/"]'],
  ['Routing', 'main svg path[d^="M0 0 H110"]'],
  ['Metrics', 'main [role=img] svg'],
  ['Explore', 'main ol li'],
  ['Costs', 'main [role=img] svg'],
  ['Changes', 'main table, main ol, main ul'],
  ['Overview', 'main [role=img]'],
];

interface Seen {
  readonly sentence: number;
  readonly picture: number;
}

/** Goes to a stage by its link, as a person does, and tells after how many milliseconds what stood there. */
async function visit(page: Page, title: string, picture: string): Promise<Seen> {
  return await page.evaluate(
    async ({ title, picture, patience }) => {
      const link = [...document.querySelectorAll('header a')].find((one) => one.textContent?.startsWith(title));
      if (!(link instanceof HTMLElement)) throw new Error(`There is no stage ${title}.`);
      const before = document.querySelector('h1')?.textContent ?? '';
      const begun = performance.now();
      link.click();
      let sentence = Number.NaN;
      let seen = Number.NaN;
      const frame = (): Promise<number> => new Promise((resolve) => requestAnimationFrame(resolve));
      while (performance.now() - begun < patience) {
        await frame();
        const heading = document.querySelector('h1');
        const isThere = heading !== null && heading.textContent !== before && !heading.querySelector('[data-pending]');
        if (sentence !== sentence && isThere) sentence = performance.now() - begun;
        if (sentence === sentence && document.querySelector(picture)) {
          seen = performance.now() - begun;
          break;
        }
      }
      if (seen !== seen) throw new Error(`${title} has no ${sentence === sentence ? picture : 'sentence'}.`);
      return { sentence, picture: seen };
    },
    { title, picture, patience },
  );
}

function percentile95(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * 0.95))] as number;
}

/** Adds a source with enough events to make ten million. */
async function fill(url: string, intake: string): Promise<void> {
  const headers = { 'content-type': 'application/json', origin: url };
  const added = await fetch(`${url}/api/sources`, {
    ...{ method: 'POST', headers, body: JSON.stringify({ name: 'swell', kind: 'http' }) },
  });
  const { token } = (await added.json()) as { readonly token: string };
  await sendManyEvents(`${intake}/intake/swell`, token, besideTheDemo);
}

/** Visits all stages in a new page repeatedly, and measures each visit. */
async function rowsOf(browser: Browser, url: string, store: string): Promise<readonly Row[]> {
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto(`${url}/`);
  // A visitor looks at the Overview before going on.
  await page.waitForLoadState('networkidle');
  const seen: Seen[] = [];
  for (let turn = 0; turn < turns; turn++)
    for (const [title, picture] of stages) {
      const one = await visit(page, title, picture);
      seen.push(one);
      if (process.env.BENCH_DETAILS) console.log(title, Math.round(one.sentence), Math.round(one.picture));
    }
  await page.close();
  const sentence = percentile95(seen.map((one) => one.sentence));
  const picture = percentile95(seen.map((one) => one.picture));
  return [
    {
      ...{ id: `p 0.5 s / sentence of a stage, 95th percentile, ${store}`, ours: sentence, peer: sentenceWithin },
      ...{ ratio: sentenceWithin / sentence, floor: 1 },
    },
    {
      ...{ id: `p 1 s / pictures of a stage, 95th percentile, ${store}`, ours: picture, peer: picturesWithin },
      ...{ ratio: picturesWithin / picture, floor: 1 },
    },
  ];
}

/** Measures how soon stages show their sentence and picture beside a process that burns a core, on the demo and on ten million events. */
export async function pageRows(folder: string): Promise<readonly Row[]> {
  const ports = await freeApplicationPorts();
  const data = join(folder, 'pages');
  const settings = readSettings({ ...ports, DATA_DIR: data });
  const application = await startApplication(settings, { demo: true, output: 'ignore' });
  let stopBurning = (): void => {};
  const browser = await chromium.launch({
    executablePath: '/usr/bin/chromium-headless-shell',
    args: ['--no-sandbox', '--disable-gpu'],
  });
  try {
    const engine = (): number => Number(readFileSync(join(data, 'engine.pid'), 'utf8'));
    const url = `http://127.0.0.1:${ports.WEB_PORT}`;
    const measure = async (store: string): Promise<readonly Row[]> => {
      await calmedDown(engine);
      const burning = spawn(process.execPath, ['-e', 'for(;;);'], { stdio: 'ignore' });
      stopBurning = () => void burning.kill('SIGKILL');
      const rows = await rowsOf(browser, url, store);
      stopBurning();
      return rows;
    };
    const rows = await measure('the demo');
    await fill(url, `http://127.0.0.1:${ports.INTAKE_PORT}`);
    return [...rows, ...(await measure('ten million events'))];
  } finally {
    stopBurning();
    await browser.close();
    await application.stop();
  }
}
