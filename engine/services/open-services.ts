import type { Log } from '../base/log.ts';
import type { Service } from '../base/service.ts';
import type { ProcessThreads } from '../workers/process-threads.ts';
import type { EngineServices } from './engine-services.ts';
import { openAnswers } from './open-answers.ts';
import { openChangeable } from './open-changeable.ts';
import { openStore } from './open-store.ts';
import { openStream } from './open-stream.ts';

/** Opens all services of an engine, as its environment says. What is to be stopped is added to `running`. */
export async function openServices(
  environment: NodeJS.ProcessEnv,
  threads: ProcessThreads,
  log: Log,
  running: Service[],
): Promise<EngineServices> {
  const store = await openStore(environment, threads, log, running);
  const changeable = { ...store, ...(await openChangeable(store)) };
  const stream = { ...changeable, ...(await openStream(changeable)) };
  return { ...stream, ...openAnswers(stream) };
}
