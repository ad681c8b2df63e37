import type { TestEngine } from './engine.ts';

/** Kills one of some engines after the other by chance, and starts it again, as long as some work goes on. */
export async function whileKilled(engines: readonly TestEngine[], work: () => Promise<unknown>): Promise<void> {
  let isWorking = true;
  const kill = async (): Promise<void> => {
    while (isWorking) {
      const engine = engines[Math.floor(Math.random() * engines.length)];
      await engine?.kill();
      await engine?.restart();
    }
  };
  const killing = kill();
  try {
    await work();
  } finally {
    isWorking = false;
    await killing;
  }
}
