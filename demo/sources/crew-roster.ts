import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { rhythm, vessels } from '../world.ts';

function change(chance: Chance, time: number): string {
  const late = chance.often(0.02);
  return JSON.stringify({
    timestamp: new Date(time).toISOString(),
    severity: late ? 'WARN' : 'INFO',
    msg: late ? 'relief crew is late' : 'shift confirmed',
    crew: { id: `c${chance.whole(100, 190)}`, role: chance.pick(['mate', 'deck', 'engine', 'galley']) },
    vessel: chance.pick(vessels),
    hours: chance.whole(4, 12),
  });
}

/** The crew roster: nested JSON lines. */
export const crewRoster: DemoSource = {
  name: 'crew-roster',
  transport: 'http',
  owner: 'crew',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: (time) => 130 * rhythm(time), line: change }],
};
