import { createHash } from 'node:crypto';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { setTimeout as pause } from 'node:timers/promises';
import { freeApplicationPorts } from '../engine/testing/ports.ts';
import { readSettings, startApplication } from '../scripts/application.mjs';
import { countChange } from '../store/cluster/counters.ts';
import { openDatabase } from '../store/database.ts';
import { addToken } from '../store/sources/sources.ts';
import { calmedDown, shareOver } from './calmed-down.ts';
import { demoSender } from './demo-sender.ts';
import type { Row } from './measure.ts';

/**
 * How long an engine is left alone, once it has taken in the two weeks, before it counts as resting: until then V8 goes on compiling
 * what runs seldom. How long it is measured, and how long before that nothing comes in where it is measured without traffic (milliseconds).
 */
const settling = 600_000;
const measured = 120_000;
const emptying = 30_000;
/** The part of a core that it may take then, at so many events a second: the demo sends 1.5 to 3.9, by the hour and the day. */
const mostAtRest = 0.03;
const eventsPerSecond = 2.5;
/** Within so many milliseconds of its start an engine takes events in. */
const startWithin = 2_000;
/** The launcher's pause before what ended is started again, in milliseconds. */
const launcherPause = 500;
const restarts = 5;

/** A source of the demo, and a token for it. */
const source = 'gates';
const token = 'a-token-of-the-bench';

async function giveToken(databaseUrl: string): Promise<void> {
  const database = openDatabase(databaseUrl, 1);
  const hash = createHash('sha256').update(token).digest('hex');
  await addToken(database.db, { hash, source, hint: 'ench', backfill: false, createdAt: Date.now() });
  await countChange(database.db);
  await database.close();
}

/** Events that an engine has taken in since it started. */
async function receivedEvents(intakePort: string): Promise<number> {
  const metrics = await (await fetch(`http://127.0.0.1:${intakePort}/metrics`)).text();
  return Number(/^otter_received_events_total (\d+)/m.exec(metrics)?.[1]);
}

/**
 * The part of a core that an engine takes at the traffic that counts as rest: measured with the traffic of this hour and without any,
 * and read from the line between them.
 */
async function shareAtRest(pid: number, intakePort: string): Promise<number> {
  const before = await receivedEvents(intakePort);
  const busy = await shareOver(pid, measured);
  const rate = ((await receivedEvents(intakePort)) - before) / (measured / 1_000);
  const sender = demoSender();
  process.kill(sender, 'SIGSTOP');
  try {
    await pause(emptying);
    const quiet = await shareOver(pid, measured);
    const percent = (share: number): string => (100 * share).toFixed(2);
    console.log(`${percent(busy)} % of a core at ${rate.toFixed(2)} events/s, ${percent(quiet)} % without any.`);
    return quiet + ((busy - quiet) * eventsPerSecond) / rate;
  } finally {
    process.kill(sender, 'SIGCONT');
  }
}

/** What an engine takes with two weeks of the demo behind it and its live traffic, and how soon it is back when it was killed. */
export async function restRows(folder: string): Promise<readonly Row[]> {
  const ports = await freeApplicationPorts();
  const data = join(folder, 'demo');
  const settings = readSettings({ ...ports, DATA_DIR: data });
  const application = await startApplication(settings, { demo: true, web: false, output: 'ignore' });
  const pidOf = (): number => Number(readFileSync(join(data, 'engine.pid'), 'utf8'));
  try {
    await giveToken(application.databaseUrl);
    await calmedDown(pidOf);
    await pause(settling);
    const share = await shareAtRest(pidOf(), ports.INTAKE_PORT);
    const times: number[] = [];
    for (let i = 0; i < restarts; i++) {
      process.kill(pidOf(), 'SIGKILL');
      const killed = performance.now();
      const address = `http://127.0.0.1:${ports.INTAKE_PORT}/intake/${source}`;
      const headers = { authorization: `Bearer ${token}` };
      const send = () => fetch(address, { method: 'POST', headers, body: '{"msg":"passes"}' }).catch(() => undefined);
      while ((await send())?.status !== 200) await pause(20);
      times.push(performance.now() - killed - launcherPause * 2 ** i);
      await pause(10_000);
    }
    const time = times.sort((a, b) => a - b)[restarts >> 1] as number;
    return [
      {
        id: 'l three hundredths of a core / at rest, 2.5 events/s',
        ours: share,
        peer: mostAtRest,
        ratio: mostAtRest / share,
        floor: 1,
      },
      {
        id: 'l 2 s / restart until events are taken in',
        ours: time,
        peer: startWithin,
        ratio: startWithin / time,
        floor: 1,
      },
    ];
  } finally {
    await application.stop();
  }
}
