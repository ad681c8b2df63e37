import { createServer, type Server, type Socket } from 'node:net';
import { createServer as createSecureServer } from 'node:tls';
import { cutFrames } from '#core/formats/syslog-frames.ts';
import type { Certificate } from './certificate.ts';
import { type IntakeQueue, syslogSender } from './queue.ts';
import type { SyslogGatherer } from './syslog.ts';

/** Most connections at a time. */
const maxConnections = 2_000;
/** A connection that says nothing for this long is closed, in milliseconds. */
const idleTime = 600_000;

/** How long senders have to finish what they are writing when the engine stops, in milliseconds. */
const farewellTime = 2_000;

/** A server for syslog over TCP. */
export interface TcpIntake {
  /**
   * Takes no more connections and asks senders to close theirs; what they write until then is taken in. Resolves when
   * everything that came has been handed to the gatherer.
   */
  readonly stop: () => Promise<void>;
}

/** Where syslog is listened for, and where it goes. */
export interface TcpSetting {
  readonly gatherer: SyslogGatherer;
  readonly queue: IntakeQueue;
  readonly host: string;
  readonly port: number;
  readonly certificate?: Certificate;
}

/**
 * Listens for syslog over TCP (RFC 6587), or over TLS (RFC 5425) where a certificate is given. While the queue is full,
 * connections are not read from.
 */
export async function listenTcp({ gatherer, queue, host, port, certificate }: TcpSetting): Promise<TcpIntake> {
  const sockets = new Set<Socket>();
  const accept = (socket: Socket): void => {
    sockets.add(socket);
    socket.once('close', () => sockets.delete(socket));
    serve(socket, gatherer, queue);
  };
  const server = certificate ? createSecureServer({ ...certificate }, accept) : createServer(accept);
  server.maxConnections = maxConnections;
  await new Promise<void>((resolve, reject) => {
    server.once('error', reject);
    server.listen(port, host, resolve);
  });
  return { stop: () => stop(server, sockets) };
}

async function stop(server: Server, sockets: ReadonlySet<Socket>): Promise<void> {
  server.close();
  const closed = [...sockets].map(
    (socket) =>
      new Promise<void>((resolve) => {
        socket.once('close', () => resolve());
        // The sender sees that nothing more will be read, and closes its side.
        socket.end();
      }),
  );
  const timer = setTimeout(() => {
    for (const socket of sockets) socket.destroy();
  }, farewellTime);
  await Promise.all(closed);
  clearTimeout(timer);
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
    if (!queue.full(syslogSender)) return;
    socket.pause();
    void queue.room(syslogSender).then(() => socket.resume());
  });
  // What a sender wrote before it closed without a line end is a message too.
  socket.on('close', () => gatherer.add(rest));
}
