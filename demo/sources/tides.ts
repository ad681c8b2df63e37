import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { ports } from '../world.ts';

function measure(chance: Chance, time: number): string {
  const port = chance.whole(0, ports.length - 1);
  const height = 2.1 + 1.7 * Math.sin((time / 44_714_000) * 2 * Math.PI + port) + chance.next() * 0.05;
  const wind = 4 + 9 * chance.next();
  if (chance.often(0.012)) return `tide-${port + 1},ERR,calibrating since ${chance.whole(1, 40)} s`;
  return `tide-${port + 1},${new Date(time).toISOString()},${height.toFixed(3)},${wind.toFixed(1)},${(8 + chance.next() * 3).toFixed(1)},${chance.whole(70, 100)}`;
}

/** Tide gauges: comma-separated measurements. */
export const tides: DemoSource = {
  name: 'tides',
  transport: 'http',
  owner: 'harbour',
  labels: { site: 'piers', environment: 'prod' },
  accepts: '',
  kinds: [{ perHour: () => 300, line: measure }],
};
