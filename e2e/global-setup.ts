import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { freePort } from '../engine/testing/ports.ts';
import { readSettings, startApplication } from '../scripts/application.mjs';

/** Starts the whole application with its demo data for the browser tests, on ports and in a folder of its own. */
export default async function setup(): Promise<() => Promise<void>> {
  const folder = mkdtempSync(join(tmpdir(), 'otter-browser-'));
  const ports = await Promise.all(Array.from({ length: 7 }, freePort));
  const [webPort, intakePort, enginePort, syslogPort, dbPort, tlsPort, objectsPort] = ports.map(String);
  const environment = {
    WEB_PORT: webPort,
    INTAKE_PORT: intakePort,
    ENGINE_PORT: enginePort,
    SYSLOG_PORT: syslogPort,
    DB_PORT: dbPort,
    SYSLOG_TLS_PORT: tlsPort,
    OBJECTS_PORT: objectsPort,
    DATA_DIR: folder,
  };
  const application = await startApplication(readSettings(environment), { demo: true });
  process.env.OTTER_URL = `http://127.0.0.1:${webPort}`;
  process.env.OTTER_SYSLOG = syslogPort ?? '';
  process.env.OTTER_DATA = folder;
  process.env.OTTER_FILES = join(folder, 'files');
  process.env.OTTER_INTAKE = `http://127.0.0.1:${intakePort}`;
  return async () => {
    await application.stop();
    rmSync(folder, { recursive: true, force: true });
  };
}
