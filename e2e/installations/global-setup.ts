import { cpSync, mkdtempSync, rmSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freeApplicationPorts } from '../../engine/testing/ports.ts';
import { readSettings, startApplication } from '../../scripts/application.mjs';
import { type Installation, installationsAtATime, publishInstallations } from './installations.ts';

/** The environment variable with the URL at which a worker requests the copies. */
export const copiesVariable = 'OTTER_COPIES';

interface Started extends Installation {
  readonly stop: () => Promise<void>;
}

/** Starts an application with its demo data on ports of its own. */
async function start(data: string): Promise<Started> {
  const ports = await freeApplicationPorts();
  const { stop } = await startApplication(readSettings({ ...ports, DATA_DIR: data }), { demo: true });
  return {
    url: `http://127.0.0.1:${ports.WEB_PORT}`,
    intake: `http://127.0.0.1:${ports.INTAKE_PORT}`,
    syslogPort: ports.SYSLOG_PORT,
    data,
    files: join(data, 'files'),
    stop,
  };
}

/**
 * Starts an application and loads the demo data. When a worker requests it, the application is stopped, its data folder copied, and an
 * application started on each copy, as loading the data again would take minutes.
 */
export default async function setup(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'otter-browser-'));
  const list = join(folder, 'installations.json');
  const data = Array.from({ length: installationsAtATime }, (_, i) => join(folder, String(i)));
  const [first = '', ...others] = data;
  let started = [await start(first)];
  publishInstallations(list, started);
  const copy = async (): Promise<void> => {
    await Promise.all(started.map(({ stop }) => stop()));
    for (const other of others) cpSync(first, other, { recursive: true });
    started = [];
    // One after the other, so that no two of them find the same free port.
    for (const each of data) started.push(await start(each));
    publishInstallations(list, started);
  };
  const server = createServer((_request, response) => {
    copy().then(
      () => response.end(),
      (error: Error) => response.writeHead(500).end(error.message),
    );
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  process.env[copiesVariable] = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  return async () => {
    server.close();
    await Promise.all(started.map(({ stop }) => stop()));
    rmSync(folder, { recursive: true, force: true });
  };
}
