import { randomInt } from 'node:crypto';
import { createServer } from 'node:net';

/**
 * Ports that tests listen on: below those that the system gives to outgoing connections, so that a server which is
 * started anew finds its port free.
 */
const lowest = 10_000;
const highest = 32_000;

const given = new Set<number>();

/** A port that nothing listens on, and that was not given out before; as are the ones so far from it. */
export async function freePort(beside: readonly number[] = []): Promise<number> {
  for (;;) {
    const port = randomInt(lowest, highest);
    const ports = [port, ...beside.map((distance) => port + distance)];
    if (ports.some((one) => given.has(one)) || !(await areFree(ports))) continue;
    for (const one of ports) given.add(one);
    return port;
  }
}

async function areFree(ports: readonly number[]): Promise<boolean> {
  for (const port of ports) if (!(await isFree(port))) return false;
  return true;
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

/** How far from each other several engines of an application listen, as its launcher says. */
const distances: Readonly<Partial<Record<(typeof names)[number], number>>> = {
  INTAKE_PORT: 10,
  ENGINE_PORT: 10,
  SYSLOG_PORT: 1,
  SYSLOG_TLS_PORT: 1,
};

/** Free ports for a whole application with some engines. */
export async function freeApplicationPorts(engines = 1): Promise<ApplicationPorts> {
  const ports: [string, string][] = [];
  for (const name of names) {
    const distance = distances[name];
    const beside = distance === undefined ? [] : Array.from({ length: engines - 1 }, (_, i) => (i + 1) * distance);
    ports.push([name, String(await freePort(beside))]);
  }
  return Object.fromEntries(ports) as ApplicationPorts;
}

function isFree(port: number): Promise<boolean> {
  const server = createServer();
  return new Promise((resolve) => {
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
