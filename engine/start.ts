import type { Log } from './base/log.ts';
import type { Service } from './base/service.ts';
import { runners } from './running/index.ts';
import { openServices } from './services/open-services.ts';
import type { ProcessThreads } from './workers/process-threads.ts';

/** Starts an engine as its environment says. Returns what runs, in the order in which it was started. */
export async function startEngine(
  environment: NodeJS.ProcessEnv,
  threads: ProcessThreads,
  log: Log,
): Promise<readonly Service[]> {
  const running: Service[] = [];
  const services = await openServices(environment, threads, log, running);
  for (const { name, leases } of runners) if (leases) services.leases.want(name, () => leases(services));
  for (const { name, start } of runners) {
    const stopping = await start(services);
    if ('length' in stopping) running.push(...stopping);
    else running.push({ name, ...stopping });
  }
  const { host, intakePort, syslogPort } = services.config;
  log.info(`The engine takes events on http://${host}:${intakePort} and syslog on port ${syslogPort}.`);
  return running;
}
