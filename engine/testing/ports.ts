import { createServer } from 'node:net';

/** A port that nothing listens on. */
export async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const address = server.address();
  await new Promise((resolve) => server.close(resolve));
  if (typeof address !== 'object' || address === null) throw new Error('no port');
  return address.port;
}
