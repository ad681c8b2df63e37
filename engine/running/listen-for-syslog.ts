import { certificateFor } from '../intake/certificate.ts';
import { SyslogGatherer } from '../intake/syslog.ts';
import { listenTcp } from '../intake/syslog-tcp.ts';
import { listenUdp } from '../intake/syslog-udp.ts';
import type { Runner } from './runner.ts';

/** Listens for syslog over UDP, TCP and TLS; what was gathered when it stops is handed in. */
export const listenForSyslog: Runner = {
  name: 'syslog',
  start: async ({ config, queue, directory, tapeRate, lost }) => {
    const { host, syslogPort, syslogTlsPort } = config;
    const gatherer = new SyslogGatherer({ queue, directory, tapeRate, lost: lost.count });
    const udp = await listenUdp(gatherer, host, syslogPort);
    const tcp = await listenTcp({ gatherer, queue, host, port: syslogPort });
    const certificate = await certificateFor(config.dataDir, config.tlsCert, config.tlsKey);
    const tls = await listenTcp({ gatherer, queue, host, port: syslogTlsPort, certificate });
    return {
      quiet: async () => {
        await Promise.all([tcp.stop(), tls.stop(), new Promise<void>((resolve) => udp.close(() => resolve()))]);
        await gatherer.flush();
      },
    };
  },
};
