import { LRUCache } from 'lru-cache';
import pino, { type Logger } from 'pino';

/** Where the engine says what goes on. */
export type Log = Logger;

/** The same message is written at most once in so many milliseconds. */
const quietTime = 60_000;
/** Most messages that are told apart. */
const mostMessages = 500;

/** What may be written again when, and how often it was not written meanwhile. */
class Repetitions {
  private readonly messages = new LRUCache<string, { until: number; left: number }>({ max: mostMessages });

  /** How often the message was left out since it was last written; undefined when it is to be left out now too. */
  written(message: string, now: number): number | undefined {
    const known = this.messages.get(message);
    if (known && now < known.until) {
      known.left++;
      return undefined;
    }
    this.messages.set(message, { until: now + quietTime, left: 0 });
    return known?.left ?? 0;
  }
}

/** Opens the log at a level of pino's. It is bounded: the same message comes at most once a minute, with how often it was left out. */
export function openLog(level: string, destination?: pino.DestinationStream): Log {
  const repetitions = new Repetitions();
  return pino(
    {
      level,
      hooks: {
        logMethod(parts, method) {
          const place = typeof parts[0] === 'string' ? 0 : 1;
          const message = String(parts[place] ?? '');
          const left = repetitions.written(message, Date.now());
          if (left === undefined) return;
          if (left > 0) Reflect.set(parts, place, `${message} (${left} times more since this was last written)`);
          method.apply(this, parts);
        },
      },
    },
    destination ?? pino.destination(1),
  );
}
