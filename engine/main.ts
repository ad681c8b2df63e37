import { setFlagsFromString } from 'node:v8';
import { openLog } from './base/log.ts';
import { stopServices } from './base/service.ts';
import { startEngine } from './start.ts';

// Columns come and go beside small heaps, which are marked often for it: threads of their own for that take more time from
// the workers than they save, a tenth of intake.
setFlagsFromString('--no-concurrent-marking');

const log = openLog(process.env.LOG_LEVEL ?? 'info');

startEngine(process.env, log)
  .then((services) => {
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
  })
  .catch((error: unknown) => {
    log.fatal({ err: error }, 'The engine could not start.');
    process.exit(1);
  });
