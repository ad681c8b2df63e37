import { day, hour, minute, second } from '../events/time-units.ts';
import { arrivalsOf } from '../health/arrivals.ts';
import { type CauseMember, silentGroups } from '../health/common-cause.ts';
import { expectationOf, learn, leastSilent, newRhythm, type Rhythm, workingTime } from '../health/rhythm.ts';
import { healthOf, newFor } from '../health/state.ts';
import { seededRandom } from '../routing/route.ts';

/** An emitter of the made-up world: how it reports, and what it shares with others. Times in milliseconds. */
interface WorldEmitter {
  readonly name: string;
  readonly cadence: number;
  /** How far a gap may be off, as a share of the cadence. */
  readonly jitter: number;
  /** Whether it rests at night, and at weekends too. */
  readonly rest: 'never' | 'nights' | 'nights and weekends';
  readonly traits: ReadonlyMap<string, string>;
}

interface Outage {
  readonly trait: string;
  readonly value: string;
  readonly from: number;
  readonly to: number;
}

/** What came of a simulated stretch of time. */
export interface WorldResult {
  readonly emitterDays: number;
  readonly events: number;
  readonly falseAlarms: number;
  /** Emitters that an outage silenced in their working time, and those of them that were noticed in time. */
  readonly silenced: number;
  readonly noticed: number;
  /** The longest delay in expected intervals, for reports at least every eight hours. */
  readonly longestDelay: number;
  /** Outages that were reported as one group with the right cause first. */
  readonly outages: number;
  readonly outagesFound: number;
}

/** A Monday, 00:00 UTC. */
const start = Date.UTC(2026, 10, 2);
/** From this cadence on an emitter counts as rare, and has an hour instead of three intervals. */
const rare = 8 * hour;

/**
 * Lets emitters with cadences from a second to a day report for a fortnight, with jitter, bursts, nights and weekends
 * off, lets `outages` common causes silence some of them in the second week, and looks at what the learnt rhythms make of
 * it. The same for the same seed.
 */
export function runWorld(emitters: number, outages: number, seed: number): WorldResult {
  const random = seededRandom(seed);
  const world = Array.from({ length: emitters }, (_, index) => emitterOf(index, emitters, random));
  const planted = plant(world, outages, random);
  const days = 14;
  const rhythms: Rhythm[] = [];
  const result = { events: 0, falseAlarms: 0, silenced: 0, noticed: 0, longestDelay: 0 };
  const states = planted.map(() => [] as CauseMember[]);
  for (const emitter of world) {
    const own = planted.filter((outage) => emitter.traits.get(outage.trait) === outage.value);
    const rhythm = follow(
      emitter,
      own,
      days,
      random,
      result,
      (outage, silent) => {
        const expected = expectationOf(silent);
        if (!expected) return;
        const state = { source: emitter.traits.get('source') ?? '', emitter: emitter.name, traits: emitter.traits };
        const looked = outage.from + lookAfter;
        const health = healthOf(silent, looked, { retired: false });
        states[planted.indexOf(outage)]?.push({
          ...state,
          silent: health.state === 'silent',
          lastHeard: silent.last,
          due: silent.last + expected.silent,
        });
      },
      planted,
    );
    rhythms.push(rhythm);
  }
  const found = planted.filter((outage, index) => {
    // Members of earlier outages with rare reports may still be silent: they are a group of their own.
    const groups = silentGroups(states[index] ?? []).filter(
      (group) => group.members.length > 1 && group.at > outage.from - 10 * minute,
    );
    const cause = groups[0]?.causes[0];
    return groups.length === 1 && cause?.trait === outage.trait && cause.value === outage.value;
  });
  return { emitterDays: emitters * days, ...result, outages, outagesFound: found.length };
}

/** How long after its start an outage is looked at. */
const lookAfter = 30 * minute;

function emitterOf(index: number, all: number, random: () => number): WorldEmitter {
  const cadence = Math.round(second * 86_400 ** (index / (all - 1)));
  const rest = cadence > hour ? 'never' : random() < 0.6 ? 'never' : random() < 0.6 ? 'nights' : 'nights and weekends';
  const pick = (count: number): number => Math.floor(random() * count);
  const site = pick(Math.ceil(all / 50));
  const network = site * 3 + pick(3);
  return {
    name: `emitter-${index}`,
    cadence,
    jitter: cadence >= rare ? (10 * minute) / cadence : 0.3 * random(),
    rest,
    traits: new Map([
      ['source', `source-${pick(12)}`],
      ['site', `site-${site}`],
      ['network', `network-${network}`],
      ['gateway', `gateway-${pick(Math.ceil(all / 25))}`],
      ['version', `5.${pick(6)}`],
    ]),
  };
}

/** Outages on working days of the second week, hours apart from one another. */
function plant(world: readonly WorldEmitter[], count: number, random: () => number): readonly Outage[] {
  const kinds = ['site', 'network', 'gateway'] as const;
  const planted: Outage[] = [];
  for (let i = 0; i < count; i++) {
    const trait = kinds[i % kinds.length] as string;
    let value = '';
    let members = 0;
    while (members < 4 || planted.some((outage) => outage.value === value)) {
      value = world[Math.floor(random() * world.length)]?.traits.get(trait) ?? '';
      members = world.filter((emitter) => emitter.cadence < 5 * minute && emitter.traits.get(trait) === value).length;
    }
    const from = start + (7 + (i % 5)) * day + (i < 5 ? 9 : 14) * hour + random() * hour;
    planted.push({ trait, value, from, to: from + 2 * hour });
  }
  return planted;
}

/** Night from 22:00 to 06:00 and Saturday and Sunday, UTC; every day begins and ends up to five minutes off. */
function rests(emitter: WorldEmitter, time: number): boolean {
  if (emitter.rest === 'never') return false;
  const shifted = time + 5 * minute * Math.sin(emitter.cadence + Math.floor(time / day) * 1.7);
  const hourOfDay = (shifted % day) / hour;
  if (hourOfDay < 6 || hourOfDay >= 22) return true;
  const weekday = new Date(shifted).getUTCDay();
  return emitter.rest === 'nights and weekends' && (weekday === 0 || weekday === 6);
}

/** One emitter's fortnight, an hour at a time. */
function follow(
  emitter: WorldEmitter,
  own: readonly Outage[],
  days: number,
  random: () => number,
  result: { events: number; falseAlarms: number; silenced: number; noticed: number; longestDelay: number },
  look: (outage: Outage, rhythm: Rhythm) => void,
  all: readonly Outage[],
): Rhythm {
  let time = start + random() * emitter.cadence;
  const rhythm = newRhythm(time);
  let pending: number[] = [];
  const flush = (): void => {
    if (pending.length > 0) learn(rhythm, arrivalsOf(pending));
    result.events += pending.length;
    pending = [];
  };
  const looks = [...all].sort((a, b) => a.from - b.from);
  let silentAfter = Number.POSITIVE_INFINITY;
  let flushAt = start + hour;
  let last = Number.NaN;
  const end = start + days * day;
  while (time < end) {
    for (let next = looks[0]; next && next.from + lookAfter <= time; next = looks[0]) {
      flush();
      look(next, rhythm);
      looks.shift();
    }
    if (time - last > silentAfter) {
      flush();
      judge(emitter, own, rhythm, time, result);
    }
    pending.push(time);
    last = time;
    if (random() < 0.01) {
      const burst = Math.floor(random() * 30);
      for (let i = 0; i < burst; i++) pending.push((last += 10 + random() * 200));
    }
    if (time >= flushAt || pending.length > 5_000) {
      flush();
      silentAfter = expectationOf(rhythm)?.silent ?? Number.POSITIVE_INFINITY;
      flushAt = time + hour;
    }
    time = Math.max(last + 1, time + emitter.cadence * (1 + (random() * 2 - 1) * emitter.jitter));
    while (rests(emitter, time)) time += minute;
    for (const outage of own)
      if (time >= outage.from && time < outage.to) time = outage.to + random() * emitter.cadence;
  }
  for (const next of looks) {
    flush();
    look(next, rhythm);
  }
  flush();
  return rhythm;
}

/** Something came at `time` after a long gap: was the gap an alarm, and was it a right one? */
function judge(
  emitter: WorldEmitter,
  own: readonly Outage[],
  rhythm: Rhythm,
  time: number,
  result: { falseAlarms: number; silenced: number; noticed: number; longestDelay: number },
): void {
  const expected = expectationOf(rhythm);
  const outage = own.find((each) => each.from < time && each.to > rhythm.last);
  const worked = workingTime(rhythm, rhythm.last, time);
  const alarmed = expected !== undefined && time - rhythm.first >= newFor && worked > expected.silent;
  if (!outage) {
    if (alarmed) result.falseAlarms++;
    return;
  }
  const cadence = Math.max(emitter.cadence, leastSilent / 3);
  const limit = emitter.cadence >= rare ? emitter.cadence + hour : 3 * cadence;
  // An outage that ends before the next report was overdue can be noticed by nobody.
  if (time - rhythm.last <= limit) return;
  result.silenced++;
  if (!alarmed) return;
  if (expected.silent <= limit) result.noticed++;
  if (emitter.cadence < rare) result.longestDelay = Math.max(result.longestDelay, expected.silent / cadence);
}
