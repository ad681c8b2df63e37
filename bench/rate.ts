import { send, type TestEngine } from '../engine/testing/engine.ts';

/** Sends pieces of 25,000 events to the source `bench` over four connections; events a second, until the last one is acknowledged. */
export async function rate(engine: TestEngine, pieces: readonly Buffer[]): Promise<number> {
  const begun = performance.now();
  let next = 0;
  const lane = async (): Promise<void> => {
    for (let piece = pieces[next++]; piece; piece = pieces[next++]) await send(engine, 'bench', piece);
  };
  await Promise.all([0, 1, 2, 3].map(lane));
  return (pieces.length * 25_000 * 1_000) / (performance.now() - begun);
}
