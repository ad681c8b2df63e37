import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { ports, reference, rhythm } from '../world.ts';

function send(chance: Chance): string {
  return chance.often(0.97)
    ? `sent boarding notice for ${reference(chance)} to passenger at ${chance.pick(ports)}`
    : `could not send boarding notice for ${reference(chance)}: mailbox full`;
}

/** Boarding notices: plain sentences with neither time nor severity. */
export const notices: DemoSource = {
  name: 'notices',
  transport: 'http',
  owner: 'booking',
  labels: { site: 'cloud', environment: 'test' },
  accepts: '',
  kinds: [{ perHour: (time) => 110 * rhythm(time), line: send }],
};
