import { hour } from '#core/events/time-units.ts';
import { chanceOf } from './chance.ts';
import type { DemoEvent, DemoSource } from './source.ts';
import type { Happenings } from './world.ts';

/** The events of a source in the hour that begins at `start`, in order of time; always the same for the same seed. */
export function eventsOfHour(
  source: DemoSource,
  start: number,
  happenings: Happenings,
  seed: string,
): readonly DemoEvent[] {
  const events: DemoEvent[] = [];
  source.kinds.forEach((kind, index) => {
    const chance = chanceOf(`${seed} ${source.name} ${index} ${start}`);
    // Minute by minute, so that what changes within the hour changes at its minute.
    for (let minute = start; minute < start + hour; minute += 60_000) {
      const expected = kind.perHour(minute, happenings) / 60;
      const count = Math.floor(expected) + (chance.often(expected % 1) ? 1 : 0);
      for (let i = 0; i < count; i++) {
        const time = minute + Math.floor(chance.next() * 60_000);
        const line = kind.line(chance, time, happenings);
        if (line !== undefined) events.push({ time, line });
      }
    }
  });
  return events.sort((a, b) => a.time - b.time);
}
