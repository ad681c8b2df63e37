import type { Chance } from '../chance.ts';
import type { DemoKind, DemoSource } from '../source.ts';
import { ports, rhythm } from '../world.ts';

function lookUp(client: string): DemoKind['line'] {
  return (chance: Chance, time) =>
    JSON.stringify({
      ts: time,
      lvl: 'info',
      msg: `timetable ${chance.pick(ports)} to ${chance.pick(ports)}`,
      client: client === '' ? chance.pick(['web', 'app', 'kiosk', 'isles-travel', 'weather-desk']) : client,
      cache: chance.often(0.9) ? 'hit' : 'miss',
      status: 200,
      rows: chance.whole(2, 48),
      took_ms: chance.took(6),
    });
}

/** The timetable service. A partner's client began to poll it far too often. */
export const timetable: DemoSource = {
  name: 'timetable',
  transport: 'http',
  owner: 'schedules',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [
    { perHour: (time) => 320 * rhythm(time), line: lookUp('') },
    { perHour: (time, { partner }) => (time < partner ? 20 : 2000), line: lookUp('harbour-partner') },
  ],
};
