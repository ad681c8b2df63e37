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

function isFree(port: number): Promise<boolean> {
  const server = createServer();
  return new Promise((resolve) => {
    server.once('error', () => resolve(false));
    server.listen(port, '127.0.0.1', () => server.close(() => resolve(true)));
  });
}
