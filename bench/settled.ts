import { setTimeout as pause } from 'node:timers/promises';
import type { TestEngine } from '../engine/testing/engine.ts';

/** Waits until small segments have been merged: nothing more is being merged. */
export async function settled(engine: TestEngine): Promise<void> {
  let before = -1;
  for (let i = 0; i < 60; i++) {
    const text = await (await fetch(`${engine.intake}/metrics`)).text();
    const merged = Number(/otter_compactions_total (\d+)/.exec(text)?.[1]);
    if (merged === before && i > 3) break;
    before = merged;
    await pause(4_000);
  }
}
