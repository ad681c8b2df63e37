import { type ports, vessels } from './world.ts';

/** Latitude and longitude of each port, in degrees: in the open sea, where the islands of the Skerry Line would lie. */
const harbours: Readonly<Record<(typeof ports)[number], readonly [number, number]>> = {
  Skerryvoe: [59.02, -4.45],
  Tarnholm: [59.19, -4.06],
  'Eilean Ruadh': [59.37, -4.29],
  Northsound: [59.43, -3.71],
  'Gannet Bay': [58.93, -3.81],
};

/** How long a crossing takes and a vessel lies at its berth afterwards, in milliseconds. */
const crossing = 55 * 60_000;
const atBerth = 20 * 60_000;
/** So much later than the one before it a vessel leaves, so that not all are at sea together. */
const apart = 17 * 60_000;

/** Where a vessel is, in degrees, and whether it lies at its berth. */
export interface Whereabouts {
  readonly latitude: number;
  readonly longitude: number;
  readonly isAtBerth: boolean;
}

/** Where a vessel is at a time (milliseconds): it goes to and fro between two ports, day and night. */
export function whereabouts(vessel: (typeof vessels)[number], time: number): Whereabouts {
  const order = Object.values(harbours);
  const number = vessels.indexOf(vessel);
  const leg = crossing + atBerth;
  const since = time - number * apart;
  const legs = Math.floor(since / leg);
  const done = Math.min(1, (since - legs * leg) / crossing);
  const [here, there] = [order[number % order.length], order[(number + 1) % order.length]];
  const [from, to] = legs % 2 === 0 ? [here, there] : [there, here];
  const between = (axis: 0 | 1): number => {
    const start = from?.[axis] ?? 0;
    return Math.round((start + ((to?.[axis] ?? 0) - start) * done) * 1e3) / 1e3;
  };
  return { latitude: between(0), longitude: between(1), isAtBerth: done === 1 };
}
