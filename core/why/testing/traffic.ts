import { day, hour, minute } from '../../events/time-units.ts';
import { isWeekend } from '../../events/weekend.ts';
import { seededRandom } from '../../routing/route.ts';

/** An event of made-up traffic: a request to a booking service. Times in milliseconds, `took` in milliseconds. */
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

/** How one source's requests differ from a time on. */
export interface Planted {
  readonly title: string;
  /** When it begins (milliseconds). */
  readonly at: number;
  /** What is asked for: a measure. */
  readonly measure: string;
  /** The values that a right answer names first, any of these; none where nothing accounts for it. */
  readonly causes: readonly Readonly<Record<string, string>>[];
  /** Whether the figure changes at all. */
  readonly isChange: boolean;
  /** Whether it goes little by little. */
  readonly isSlow?: true;
  /** How many times as many requests come at a time. */
  readonly rate?: (time: number) => number;
  /** Changes a request; false: it does not come. */
  readonly alter?: (request: Request, random: () => number) => boolean;
  /** Further requests, as a part of the usual ones at a time; each is made by `alter` of a usual one. */
  readonly more?: (time: number) => number;
  readonly moreAre?: (request: Request, random: () => number) => void;
}

const regions = ['north', 'south', 'isles'];
const methods = ['GET', 'GET', 'GET', 'POST', 'PUT'];
const versions = ['4.1', '4.1', '4.2'];

/** A number from 0 up to, not including, `count`, small ones more often: as words are (G. K. Zipf 1949). */
export function zipf(random: () => number, count: number): number {
  return Math.min(count - 1, Math.floor((count + 1) ** random()) - 1);
}

/** How many requests come on weekends, as a part of those on other days. */
export const weekendPart = 0.75;

/** How many requests come at a time of day and week, as a multiple of the mean. */
function rhythm(time: number): number {
  const hours = (time % day) / hour;
  const weekend = isWeekend(time) ? weekendPart : 1;
  return (
    weekend *
    (1 + 0.55 * Math.sin(((hours - 8.5) / 24) * 2 * Math.PI) + 0.15 * Math.sin(((hours - 3) / 12) * 2 * Math.PI))
  );
}

/** The requests of a source between two times, about `perMinute` a minute, in order; with what was planted. */
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
    // Neighbouring minutes have more or fewer alike.
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

/** A number of what happens by chance so often on average (D. E. Knuth 1969; beyond 50 by the normal distribution). */
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
