import type { Chance } from '../chance.ts';
import type { DemoSource } from '../source.ts';
import { address, rhythm } from '../world.ts';

const agents = [
  'Mozilla/5.0 (X11; Linux x86_64) Gecko/20100101',
  'Mozilla/5.0 (iPhone; CPU iPhone OS 18_1 like Mac OS X)',
  'Mozilla/5.0 (Windows NT 10.0; Win64; x64)',
  'SkerryKiosk/3.2',
];
const paths = [
  '/',
  '/sailings',
  '/sailings/today',
  '/book',
  '/book/confirm',
  '/prices',
  '/account',
  '/assets/app.css',
  '/assets/app.js',
];
const months = ['Jan', 'Feb', 'Mar', 'Apr', 'May', 'Jun', 'Jul', 'Aug', 'Sep', 'Oct', 'Nov', 'Dec'];

function clf(time: number): string {
  const date = new Date(time);
  const two = (value: number): string => String(value).padStart(2, '0');
  return `${two(date.getUTCDate())}/${months[date.getUTCMonth()]}/${date.getUTCFullYear()}:${date.toISOString().slice(11, 19)} +0000`;
}

function visit(chance: Chance, time: number): string {
  const status = chance.often(0.94) ? 200 : chance.often(0.6) ? 404 : chance.often(0.5) ? 302 : 500;
  const path = status === 404 ? `/old/${chance.whole(1, 400)}` : chance.pick(paths);
  const user = chance.often(0.2) ? `u${chance.whole(10_000, 12_999)}` : '-';
  const took = (chance.took(45) / 1000).toFixed(3);
  return `${address(chance)} - ${user} [${clf(time)}] "GET ${path} HTTP/1.1" ${status} ${chance.whole(300, 42_000)} "https://www.skerry.example/" "${chance.pick(agents)}" ${took}`;
}

function probe(chance: Chance, time: number): string {
  return `192.0.2.9 - - [${clf(time)}] "GET /health/${chance.pick(['live', 'ready'])} HTTP/1.1" 200 17 "-" "probe/1.4" 0.001`;
}

/** The booking site: web access lines, among them the probes of the load balancer. */
export const bookingWeb: DemoSource = {
  name: 'booking-web',
  transport: 'http',
  owner: 'booking',
  labels: { site: 'cloud', environment: 'prod' },
  accepts: '',
  kinds: [
    { perHour: (time) => 1500 * rhythm(time), line: visit },
    { perHour: () => 720, line: probe },
  ],
};
