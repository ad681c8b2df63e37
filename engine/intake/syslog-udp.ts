import { createSocket, type Socket } from 'node:dgram';
import type { SyslogGatherer } from './syslog.ts';

/** Listens for syslog datagrams (RFC 5426): one message each. */
export async function listenUdp(gatherer: SyslogGatherer, host: string, port: number): Promise<Socket> {
  const socket = createSocket({ type: 'udp4', recvBufferSize: 4_000_000 });
  socket.on('message', (message) => gatherer.add(message));
  await new Promise<void>((resolve, reject) => {
    socket.once('error', reject);
    socket.bind(port, host, resolve);
  });
  return socket;
}
