import type { EngineConfig } from '../base/config.ts';
import type { Service } from '../base/service.ts';
import { certificateFor } from './certificate.ts';
import type { IntakeQueue } from './queue.ts';
import type { SyslogGatherer } from './syslog.ts';
import { listenTcp } from './syslog-tcp.ts';
import { listenUdp } from './syslog-udp.ts';

/** Listens for syslog over UDP, TCP and TLS; what was gathered when it stops is handed in. */
export async function startSyslog(
  config: EngineConfig,
  { gatherer, queue }: { readonly gatherer: SyslogGatherer; readonly queue: IntakeQueue },
): Promise<Service> {
  const { host, syslogPort, syslogTlsPort } = config;
  const udp = await listenUdp(gatherer, host, syslogPort);
  const tcp = await listenTcp({ gatherer, queue, host, port: syslogPort });
  const certificate = await certificateFor(config.dataDir, config.tlsCert, config.tlsKey);
  const tls = await listenTcp({ gatherer, queue, host, port: syslogTlsPort, certificate });
  return {
    name: 'syslog',
    quiet: async () => {
      await Promise.all([tcp.stop(), tls.stop(), new Promise<void>((resolve) => udp.close(() => resolve()))]);
      await gatherer.flush();
    },
  };
}
