import { setFlagsFromString } from 'node:v8';
import { startProcessThreads } from './workers/process-threads.ts';

// Columns come and go beside small heaps, which are marked often for it: threads of their own for that take more time from
// the workers than they save, a tenth of intake.
setFlagsFromString('--no-concurrent-marking');

// Loading the code takes half the time until the first event is stored, so a thread loads its part meanwhile.
const threads = startProcessThreads(process.env);
const { runEngine } = await import('./run.ts');
await runEngine(threads);
