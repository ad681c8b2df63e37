import type { ArrivalsFrame } from '#core/answers/arrivals.ts';
import { operations } from '#core/operations/index.ts';
import { mostViews } from '../../arrivals/arrivals-hub.ts';
import { question, StreamAnswer } from '../handler.ts';
import { Refusal } from '../refusal.ts';
import { withoutSaved } from './expand-saved.ts';

export const arrivals = question(
  operations.arrivals,
  async ({ condition, condition2, condition3 }, { arrivals: hub, database }, { signal }) => {
    const asked = [condition, condition2, condition3].filter((one) => one !== undefined);
    const conditions = await Promise.all(asked.map((one) => withoutSaved(database.db, one)));
    if (!hub.hasRoomFor(conditions.length))
      throw new Refusal(
        429,
        'Too many views of arrivals',
        `At most ${mostViews} views of arrivals are open at a time. Close one that nobody looks at.`,
      );
    return new StreamAnswer(events(hub.frames(conditions, signal)), 'text/event-stream');
  },
);

/** Frames as server-sent events (HTML Living Standard, 9.2). */
async function* events(frames: AsyncIterable<ArrivalsFrame>): AsyncGenerator<string> {
  for await (const frame of frames) yield `data: ${JSON.stringify(frame)}\n\n`;
}
