import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { type Happenings, reference, rhythm } from '../world.ts';

/** Workers that run release 8.3 once it is out: the odd ones of the last three in nine. */
const upgraded = new Set([7, 8, 9]);

function settle(chance: Chance, time: number, { release }: Happenings): string {
  const worker = chance.whole(1, 9);
  const outcome = chance.pick([
    'accepted',
    'accepted',
    'accepted',
    'accepted',
    'accepted',
    'accepted',
    'declined',
    'refunded',
    'timeout',
  ]);
  const severity = outcome === 'timeout' ? 'E' : outcome === 'declined' ? 'W' : 'I';
  const took = outcome === 'timeout' ? `${(8 + chance.next()).toFixed(2)}s` : `${chance.took(210)}ms`;
  const amount = `${(chance.whole(900, 24_000) / 100).toFixed(2)}EUR`;
  const name = time >= release && upgraded.has(worker) ? 'settle' : 'amount';
  const acquirer = chance.pick(['north', 'north', 'east', 'isles']);
  return `${new Date(time).toISOString()} ${severity} pay[${worker}] ${outcome} card=4000••••${chance.whole(1000, 9999)} ${name}=${amount} acquirer=${acquirer} took=${took} ref=${reference(chance)}`;
}

/** Payments: one line a settlement. Release 8.3 renamed a field of its lines. */
export const payments: DemoSource = {
  name: 'payments',
  transport: 'http',
  owner: 'payments',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: (time) => 520 * rhythm(time), line: settle }],
};
