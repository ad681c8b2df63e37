import { hour } from '../../events/time-units.ts';
import type { Planted, Request } from './traffic.ts';

type Where = Partial<Pick<Request, 'region' | 'node' | 'path' | 'client' | 'tenant' | 'version' | 'method'>>;

/** Sixty changes, fifty of them with a cause; each begins at `beginsAt(index)` (milliseconds), some in the following night. */
export function plantedChanges(beginsAt: (index: number) => number): readonly Planted[] {
  const kinds: readonly ((index: number, at: number) => Planted)[] = [
    ...repeated(8, (i, at) => grown(at, singles[i % singles.length] as Where, 0.5 + 0.3 * (i % 4))),
    ...repeated(6, (i, at) => grown(at, newcomers[i % newcomers.length] as Where, 0.3 + 0.2 * (i % 3))),
    ...repeated(5, (i, at) => vanished(at, ceased[i % ceased.length] as Where)),
    ...repeated(7, (i, at) => grown(at, pairs[i % pairs.length] as Where, 0.6 + 0.3 * (i % 3))),
    ...repeated(5, (i, at) => drifting(at, singles[(i + 3) % singles.length] as Where)),
    ...repeated(5, (i, at) => grown(atNight(at), singles[(i + 1) % singles.length] as Where, 0.5)),
    ...repeated(6, (i, at) => failing(at, common[i % common.length] as Where)),
    ...repeated(4, (i, at) => slower(at, common[(i + 2) % common.length] as Where)),
    ...repeated(4, (i, at) =>
      twice(at, singles[i % singles.length] as Where, newcomers[i % newcomers.length] as Where),
    ),
    ...repeated(6, (_, at) => ({ title: 'nothing', at, measure: 'events', causes: [], isChange: false })),
    ...repeated(4, (i, at) => everything(at, 1.4 + 0.3 * i)),
  ];
  return kinds.map((kind, index) => kind(index, beginsAt(index)));
}

const singles: readonly Where[] = [
  { client: 'client-3' },
  { path: '/api/fares/2' },
  { tenant: 'tenant-4' },
  { node: 'pier-5' },
  { client: 'client-40' },
  { tenant: 'tenant-11' },
];
const newcomers: readonly Where[] = [
  { client: 'harbour-partner' },
  { path: '/api/export/all' },
  { version: '5.0' },
  { tenant: 'night-boats' },
];
const ceased: readonly Where[] = [
  { node: 'pier-0' },
  { region: 'north' },
  { tenant: 'tenant-0' },
  { version: '4.2' },
  { node: 'pier-1' },
];
const pairs: readonly Where[] = [
  { path: '/api/sailings/0', client: 'client-1' },
  { region: 'isles', tenant: 'tenant-1' },
  { node: 'pier-2', path: '/api/fares/0' },
  { tenant: 'tenant-2', version: '4.2' },
  { client: 'client-0', method: 'PUT' },
  { region: 'south', node: 'pier-0' },
  { path: '/api/fares/1', tenant: 'tenant-0' },
];
const common: readonly Where[] = [
  { node: 'pier-0' },
  { path: '/api/sailings/0' },
  { tenant: 'tenant-1' },
  { region: 'south' },
];

function repeated(count: number, make: (index: number, at: number) => Planted) {
  return Array.from(
    { length: count },
    (_, i) =>
      (_index: number, at: number): Planted =>
        make(i, at),
  );
}

function isOf(where: Where, request: Request): boolean {
  return Object.entries(where).every(([field, value]) => request[field as keyof Where] === value);
}

function named(where: Where): string {
  return Object.entries(where)
    .map(([field, value]) => `${field} = ${value}`)
    .join(', ');
}

function grown(at: number, where: Where, by: number): Planted {
  return {
    title: `${named(where)} sends more`,
    at,
    measure: 'events',
    causes: [where],
    isChange: true,
    more: (time) => (time >= at ? by : 0),
    moreAre: (request) => void Object.assign(request, where),
  };
}

function drifting(at: number, where: Where): Planted {
  return {
    ...grown(at, where, 1),
    title: `${named(where)} sends ever more`,
    isSlow: true,
    more: (time) => (time >= at ? Math.min(2, (time - at) / (3 * hour)) : 0),
  };
}

function vanished(at: number, where: Where): Planted {
  return {
    title: `${named(where)} ceases`,
    at,
    measure: 'events',
    causes: [where],
    isChange: true,
    alter: (request) => !isOf(where, request),
  };
}

function failing(at: number, where: Where): Planted {
  return {
    title: `${named(where)} fails more often`,
    at,
    measure: 'share of status >= 500',
    causes: [where],
    isChange: true,
    alter: (request, random) => {
      if (isOf(where, request) && random() < 0.4) request.status = 503;
      return true;
    },
  };
}

function slower(at: number, where: Where): Planted {
  return {
    title: `${named(where)} is slower`,
    at,
    measure: 'p95(took)',
    causes: [where],
    isChange: true,
    alter: (request) => {
      if (isOf(where, request)) request.took *= 6;
      return true;
    },
  };
}

function twice(at: number, first: Where, second: Where): Planted {
  return {
    title: `${named(first)} and ${named(second)} send more`,
    at,
    measure: 'events',
    causes: [first, second],
    isChange: true,
    more: (time) => (time >= at ? 1 : 0),
    moreAre: (request, random) => void Object.assign(request, random() < 0.6 ? first : second),
  };
}

function everything(at: number, by: number): Planted {
  return {
    title: `everything comes ${by.toFixed(1)} × as often`,
    at,
    measure: 'events',
    causes: [],
    isChange: true,
    rate: (time) => (time >= at ? by : 1),
  };
}

/** Shortly after 3:00 on the same day, the quietest hour. */
function atNight(at: number): number {
  const day = 24 * hour;
  return Math.floor(at / day) * day + 3 * hour + (at % hour);
}
