import type { Log } from './log.ts';

/** A part of the engine that runs from its start to its end. */
export interface Service {
  readonly name: string;
  /** Takes in nothing more and begins nothing new; what is under way goes on. */
  readonly quiet?: () => Promise<unknown> | undefined;
  /** Ends when everything that was under way is done, and lets go of what it has. */
  readonly stop?: () => Promise<unknown>;
  /** How long it may take to stop, in milliseconds; absent: {@link stopPatience}. */
  readonly patience?: number;
}

/** How long a service may take to stop where it does not say otherwise, in milliseconds. */
const stopPatience = 3_000;

/** Stops services in good order, the last one first: none takes in anything more before the first of them ends. */
export async function stopServices(services: readonly Service[], log: Log): Promise<void> {
  const last = [...services].reverse();
  const quiet = last.map(({ quiet }) => quiet?.());
  await within(stopPatience, Promise.allSettled(quiet));
  for (const { name, stop, patience = stopPatience } of last) {
    if (!stop) continue;
    await within(patience, stop()).catch((error: unknown) => log.error({ err: error }, `Not in good order: ${name}.`));
  }
}

async function within(time: number, work: Promise<unknown>): Promise<void> {
  let timer: NodeJS.Timeout | undefined;
  const patience = new Promise<void>((resolve) => {
    timer = setTimeout(resolve, time);
  });
  await Promise.race([work, patience]).finally(() => clearTimeout(timer));
}
