import { openLog } from './base/log.ts';
import { stopServices } from './base/service.ts';
import { startEngine } from './start.ts';
import type { ProcessThreads } from './workers/process-threads.ts';

/** Runs the engine of this process until a signal stops it. */
export async function runEngine(threads: ProcessThreads): Promise<void> {
  const log = openLog(process.env.LOG_LEVEL ?? 'info');
  try {
    const services = await startEngine(process.env, threads, log);
    process.send?.('ready');
    let stopping = false;
    const stop = async (): Promise<void> => {
      if (stopping) return;
      stopping = true;
      await stopServices(services, log);
      process.exit(0);
    };
    process.on('SIGTERM', stop);
    process.on('SIGINT', stop);
  } catch (error) {
    log.fatal({ err: error }, 'The engine could not start.');
    process.exit(1);
  }
}
