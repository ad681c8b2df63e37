import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createSecureServer } from 'node:tls';
import type { Certificate } from './certificate.ts';
import type { IntakeQueue } from './queue.ts';
import type { SyslogGatherer } from './syslog.ts';
import { cutFrames } from './syslog-frames.ts';

/** Most connections at a time. */
const maxConnections = 2_000;
/** A connection that says nothing for this long is closed, in milliseconds. */
const idleTime = 600_000;

/**
 * Listens for syslog over TCP (RFC 6587), or over TLS (RFC 5425) where a certificate is given. While the queue is full,
 * connections are not read from.
 */
export async function listenTcp(
  gatherer: SyslogGatherer,
  queue: IntakeQueue,
  host: string,
  port: number,
  certificate?: Certificate,
): Promise<Server> {
  const accept = (socket: Socket): void => serve(socket, gatherer, queue);
  const server = certificate ? createSecureServer({ ...certificate }, accept) : createServer(accept);
  server.maxConnections = maxConnections;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  return server;
}

function serve(socket: Socket, gatherer: SyslogGatherer, queue: IntakeQueue): void {
  let rest: Uint8Array = new Uint8Array(0);
  socket.setTimeout(idleTime, () => socket.destroy());
  socket.on('error', () => socket.destroy());
  socket.on('data', (chunk) => {
    const bytes = rest.length === 0 ? chunk : Buffer.concat([rest, chunk]);
    const frames = cutFrames(bytes);
    if (!frames) {
      socket.destroy();
      return;
    }
    for (const message of frames.messages) gatherer.add(message);
    rest = frames.rest;
    if (!queue.full) return;
    socket.pause();
    void queue.room().then(() => socket.resume());
  });
  // What a sender wrote before it closed without a line end is a message too.
  socket.on('end', () => gatherer.add(rest));
}
