import { day, hour, minute } from '../../events/time-units.ts';
import { isWeekend } from '../../events/weekend.ts';
import { seededRandom } from '../../routing/route.ts';

/** A request to a generated booking service. `time` and `took` in milliseconds. */
export interface Request {
  readonly time: number;
  region: string;
  node: string;
  path: string;
  method: string;
  status: number;
  client: string;
  tenant: string;
  version: string;
  took: number;
  readonly request: string;
}

/** A planted change in the requests of one source. */
export interface Planted {
  readonly title: string;
  /** When it begins (milliseconds). */
  readonly at: number;
  /** The measure to explain. */
  readonly measure: string;
  /** Correct first causes, any of them; empty if no value is the cause. */
  readonly causes: readonly Readonly<Record<string, string>>[];
  /** Whether the figure changes at all. */
  readonly isChange: boolean;
  /** Whether it is a ramp. */
  readonly isSlow?: true;
  /** Factor on the number of requests. */
  readonly rate?: (time: number) => number;
  /** Changes a request; returns false to drop it. */
  readonly alter?: (request: Request, random: () => number) => boolean;
  /** Additional requests as a fraction of the normal number; `moreAre` changes them. */
  readonly more?: (time: number) => number;
  readonly moreAre?: (request: Request, random: () => number) => void;
}

const regions = ['north', 'south', 'isles'];
const methods = ['GET', 'GET', 'GET', 'POST', 'PUT'];
const versions = ['4.1', '4.1', '4.2'];

/** A random number from 0 to `count - 1` by Zipf's law (G. K. Zipf 1949). */
export function zipf(random: () => number, count: number): number {
  return Math.min(count - 1, Math.floor((count + 1) ** random()) - 1);
}

/** Weekend traffic as a fraction of weekday traffic. */
export const weekendPart = 0.75;

/** Traffic by time of day and week, as a multiple of the mean. */
function rhythm(time: number): number {
  const hours = (time % day) / hour;
  const weekend = isWeekend(time) ? weekendPart : 1;
  return (
    weekend *
    (1 + 0.55 * Math.sin(((hours - 8.5) / 24) * 2 * Math.PI) + 0.15 * Math.sin(((hours - 3) / 12) * 2 * Math.PI))
  );
}

/** The requests of a source in a window, in order, about `perMinute` per minute, with a planted change. */
export function* requests(
  seed: number,
  window: { readonly from: number; readonly to: number },
  perMinute: number,
  planted: Planted,
): Generator<Request> {
  const random = seededRandom(seed * 7919 + 13);
  for (let i = 0; i < 20; i++) random();
  let number = 0;
  let mood = 1;
  for (let start = window.from; start < window.to; start += minute) {
    // Neighbouring minutes are correlated.
    mood += 0.1 * (1 - mood) + 0.06 * (random() - 0.5);
    const usual = perMinute * rhythm(start) * mood;
    const at = (): number => start + Math.floor(random() * minute);
    const times: { readonly time: number; readonly isMore: boolean }[] = [];
    for (let n = poisson(random, usual * (planted.rate?.(start) ?? 1)); n > 0; n--)
      times.push({ time: at(), isMore: false });
    for (let n = poisson(random, usual * (planted.more?.(start) ?? 0)); n > 0; n--)
      times.push({ time: at(), isMore: true });
    times.sort((a, b) => a.time - b.time);
    for (const { time, isMore } of times) {
      const made = request(time, random, `${seed}-${number++}`);
      if (isMore) planted.moreAre?.(made, random);
      else if (time >= planted.at && planted.alter?.(made, random) === false) continue;
      yield made;
    }
  }
}

function request(time: number, random: () => number, id: string): Request {
  const path = `/api/${['sailings', 'fares', 'cabins', 'piers', 'tickets'][zipf(random, 5)]}/${zipf(random, 12)}`;
  const failed = random() < 0.02;
  return {
    time,
    region: regions[zipf(random, 3)] as string,
    node: `pier-${zipf(random, 16)}`,
    path,
    method: methods[Math.floor(random() * methods.length)] as string,
    status: failed ? 500 + Math.floor(random() * 4) : random() < 0.06 ? 404 : 200,
    client: `client-${zipf(random, 400)}`,
    tenant: `tenant-${zipf(random, 30)}`,
    version: versions[Math.floor(random() * versions.length)] as string,
    took: Math.exp(3.5 + 0.7 * normal(random)),
    request: `r-${id}`,
  };
}

/** A Poisson deviate (D. E. Knuth 1969; normal approximation above 50). */
function poisson(random: () => number, mean: number): number {
  if (mean > 50) return Math.max(0, Math.round(mean + Math.sqrt(mean) * normal(random)));
  const limit = Math.exp(-mean);
  let count = 0;
  for (let product = random(); product > limit; product *= random()) count++;
  return count;
}

/** A normal deviate (G. E. P. Box and M. E. Muller 1958). */
function normal(random: () => number): number {
  return Math.sqrt(-2 * Math.log(1 - random())) * Math.cos(2 * Math.PI * random());
}
