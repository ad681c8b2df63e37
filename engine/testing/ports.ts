import { randomInt } from 'node:crypto';
import { createServer } from 'node:net';

/**
 * Ports that tests listen on: below those that the system gives to outgoing connections, so that a server which is
 * started anew finds its port free.
 */
const lowest = 10_000;
const highest = 32_000;

const given = new Set<number>();

/** A port that nothing listens on, and that was not given out before. */
export async function freePort(): Promise<number> {
  for (;;) {
    const port = randomInt(lowest, highest);
    if (given.has(port) || !(await isFree(port))) continue;
    given.add(port);
    return port;
  }
}

const names = [
  'WEB_PORT',
  'INTAKE_PORT',
  'ENGINE_PORT',
  'SYSLOG_PORT',
  'DB_PORT',
  'SYSLOG_TLS_PORT',
  'OBJECTS_PORT',
] as const;

/** The ports of a whole application, as the settings in its environment. */
export type ApplicationPorts = Readonly<Record<(typeof names)[number], string>>;

/** Free ports for a whole application. */
export async function freeApplicationPorts(): Promise<ApplicationPorts> {
  const ports: [string, string][] = [];
  for (const name of names) ports.push([name, String(await freePort())]);
  return Object.fromEntries(ports) as ApplicationPorts;
}

function isFree(port: number): Promise<boolean> {
  const server = createServer();
  return new Promise((resolve) => {
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
