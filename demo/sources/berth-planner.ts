import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { ports, vessels } from '../world.ts';

function plan(chance: Chance, time: number): string {
  return `ts=${new Date(time).toISOString()} level=${chance.often(0.04) ? 'warn' : 'info'} msg="berth assigned" host=planner-${chance.whole(1, 2)} vessel="${chance.pick(vessels)}" port="${chance.pick(ports)}" berth=${chance.whole(1, 6)} took=${chance.took(35)}ms`;
}

function think(chance: Chance, time: number): string {
  return `ts=${new Date(time).toISOString()} level=debug msg="candidate scored" host=planner-${chance.whole(1, 2)} vessel="${chance.pick(vessels)}" port="${chance.pick(ports)}" berth=${chance.whole(1, 6)} cache=${chance.often(0.7) ? 'hit' : 'miss'} score=${chance.next().toFixed(6)} draught=${(2 + chance.next() * 4).toFixed(3)} clearance=${(chance.next() * 9).toFixed(3)} round=${chance.whole(1, 400)} took=${chance.whole(20, 900)}us`;
}

/** The berth planner: name=value lines. Its debug lines were left on. */
export const berthPlanner: DemoSource = {
  name: 'berth-planner',
  transport: 'http',
  owner: 'harbour',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [
    { perHour: () => 280, line: plan },
    { perHour: () => 2500, line: think },
  ],
};
