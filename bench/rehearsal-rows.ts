import type { DayRow } from '../core/costs/day-table.ts';
import { DayTable } from '../core/costs/day-table.ts';
import type { EventBatch } from '../core/events/batch.ts';
import { gather } from '../core/events/select.ts';
import { day } from '../core/events/time-units.ts';
import { checkPlan } from '../core/plan/check.ts';
import { type CompiledPlan, compilePlan } from '../core/plan/compile.ts';
import type { PlanDocument } from '../core/plan/document.ts';
import type { TierDocument } from '../core/plan/parts/tiers/tiers-shape.ts';
import { answerOf } from '../core/rehearsal/answer-of.ts';
import { recentDays } from '../core/rehearsal/recent-days.ts';
import type { RehearsalRow } from '../core/rehearsal/rehearsal-answer.ts';
import { newRehearsal, rehearseBatch } from '../core/rehearsal/rehearse.ts';
import { seededRandom } from '../core/routing/route.ts';
import { countShapes } from '../core/routing/shape-counts.ts';
import { addVolume, newVolume, type Volume } from '../core/routing/volume.ts';
import { learntShaper } from './learnt-shaper.ts';
import type { Row } from './measure.ts';
import { firstDay, kinds, regions, trafficOf, trafficSources } from './rehearsal-traffic.ts';

/** Days before the change, and after it. */
const before = 14;
const after = 7;
/** One in so many records of the last day is on the tape. */
const tapedEvery = 3;
/** Draft changes that are tried; in so many of a hundred what came is to lie in the 95 % band. */
const drafts = 100;
const wanted = 92;
/** The median of the whole band's width, as a part of what is predicted. */
const widest = 0.08;

const live: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [
    { id: 'audit', title: 'Audit', when: 'severity >= warn', keep: '90d' },
    {
      ...{ id: 'bookings', title: 'Bookings', when: 'source in (booking, payments)', keep: '30d' },
      exclusions: [{ id: 'debug', title: 'Debug', when: 'severity < info', keep: '1 in 10' }],
    },
    { id: 'rest', title: 'Rest', keep: '7d' },
  ],
};

function compiled(plan: PlanDocument): CompiledPlan {
  const checked = checkPlan(plan);
  if (!checked.ok) throw new Error(JSON.stringify(checked.problems));
  return compilePlan(checked.plan);
}

/** A condition by a kind, a field, a severity, a source, or two of them. */
function condition(random: () => number): string {
  const oneOf = <T>(list: readonly T[]): T => list[Math.floor(random() * list.length)] as T;
  const simple = [
    () => `kind = ${oneOf(kinds).name}`,
    () => `region = ${oneOf(regions)}`,
    () => `took > ${Math.round(5 + 100 * random())}`,
    () => `source = ${oneOf(trafficSources)}`,
    () => oneOf(['severity < info', 'severity = info', 'severity >= error']),
    () => `client = c${Math.floor(random() * 20)}`,
  ];
  const first = oneOf(simple)();
  return random() < 0.4 ? `${first} ${oneOf(simple)()}` : first;
}

/** A random change of the plan. */
function draftOf(random: () => number): PlanDocument {
  const tiers = live.tiers.map((tier) => ({ ...tier, exclusions: [...(tier.exclusions ?? [])] }));
  const changes = 1 + Math.floor(random() * 3);
  for (let i = 0; i < changes; i++) {
    const tier = tiers[Math.floor(random() * tiers.length)] as (typeof tiers)[number];
    const what = random();
    if (what < 0.6) {
      const share = ['none', `1 in ${2 + Math.floor(random() * 20)}`][Math.floor(random() * 2)] as string;
      const by = share !== 'none' && random() < 0.5 ? { by: 'client' } : {};
      tier.exclusions.unshift({ id: `x${i}`, title: `X ${i}`, when: condition(random), keep: share, ...by });
    } else if (what < 0.75) tier.exclusions.length = 0;
    else if (what < 0.9)
      tiers.unshift({ id: `t${i}`, title: `T ${i}`, when: condition(random), keep: '3d', exclusions: [] });
    else tiers.reverse();
  }
  // What takes everything stands last, as it would shadow the others.
  const all = (tier: TierDocument): number => (tier.when === undefined ? 1 : 0);
  return { ...live, tiers: [...tiers].sort((a, b) => all(a) - all(b)) };
}

/** The part of a batch that is on the tape, with its weights. */
function taped(batch: EventBatch, random: () => number): EventBatch {
  const rows = Int32Array.from([...batch.time.keys()].filter(() => random() * tapedEvery < 1));
  const some = gather(batch.source, [{ batch, rows }]);
  return { ...some, weight: some.weight.map((weight) => weight * tapedEvery), unweighted: false };
}

/** What came of a draft on the days after, a day. */
interface Came {
  readonly kept: Volume;
  readonly tiers: ReadonlyMap<string, Volume>;
}

function cameOf(plan: CompiledPlan, days: readonly (readonly EventBatch[])[], random: () => number): Came {
  const kept = newVolume();
  const tiers = new Map<string, Volume>();
  for (const batch of days.flat())
    for (const { outcome, tier, events, bytes } of plan.run(batch, { now: batch.time[0] as number, random, fleets: [] })
      .ledger) {
      if (outcome !== 'kept') continue;
      const volume = { events: events / days.length, bytes: bytes / days.length };
      addVolume(kept, volume);
      const known = tiers.get(tier);
      if (known) addVolume(known, volume);
      else tiers.set(tier, volume);
    }
  return { kept, tiers };
}

interface Judged {
  readonly isInside: boolean;
  /** The whole band as a part of what is predicted. */
  readonly width: number;
}

function judged({ draft, bands }: Omit<RehearsalRow, 'id'>, came: Volume | undefined): Judged {
  const off = Math.abs((came?.bytes ?? 0) - draft.bytes);
  return { isInside: off <= Math.max(1, bands.draft), width: draft.bytes > 0 ? (2 * bands.draft) / draft.bytes : 0 };
}

/** Random changes rehearsed on two weeks, beside what came of them in the week after: traffic that differs by hour, weekday and day, and grows. */
export function rehearsalRows(say: (text: string) => void): readonly Row[] {
  const shaper = learntShaper(trafficOf(before - 1));
  const shapedDay = (which: number): readonly EventBatch[] =>
    trafficOf(which).map((batch) => {
      shaper.begin();
      return shaper.shaped(batch);
    });
  const past = Array.from({ length: before }, (_, which) => shapedDay(which));
  const future = Array.from({ length: after }, (_, which) => shapedDay(before + which));
  const random = seededRandom(31);
  const livePlan = compiled(live);
  const now = (firstDay + before) * day;
  const ledger = new DayTable();
  past.forEach((batches, which) => {
    const rows = batches.flatMap((batch): readonly DayRow[] =>
      countShapes(livePlan.run(batch, { now, random, fleets: [] }), now).map(({ start, ...volume }) => ({
        ...volume,
        day: firstDay + which,
      })),
    );
    const sums = new Map<string, DayRow>();
    for (const row of rows) {
      const key = JSON.stringify([row.source, row.tier, row.outcome, row.shape, row.severity]);
      const known = sums.get(key);
      sums.set(key, known ? { ...row, events: known.events + row.events, bytes: known.bytes + row.bytes } : row);
    }
    ledger.replace(firstDay + which, firstDay + which + 1, [...sums.values()]);
  });
  const recent = recentDays(ledger.series(), firstDay + before);
  const tape = (past.at(-1) ?? []).map((batch) => taped(batch, random));
  const window = { from: now - day, to: now };
  const kept: Judged[] = [];
  const tiers: Judged[] = [];
  for (let i = 0; i < drafts; i++) {
    const draft = compiled(draftOf(random));
    const rehearsal = newRehearsal();
    for (const batch of tape) rehearseBatch(rehearsal, { live: livePlan, draft, now, window }, batch);
    const answer = answerOf(rehearsal, window, 0, {
      span: i % 2 === 0 ? 7 : 14,
      recent,
      owners: {},
      lineOf: () => '',
      readers: [],
    });
    const came = cameOf(draft, future, random);
    kept.push(judged(answer.kept, came.kept));
    for (const row of answer.tiers) if (row.draft.bytes > 0) tiers.push(judged(row, came.tiers.get(row.id)));
  }
  const inside = (list: readonly Judged[]): number =>
    (100 * list.filter(({ isInside }) => isInside).length) / list.length;
  const width = (list: readonly Judged[]): number =>
    [...list].sort((a, b) => a.width - b.width)[list.length >> 1]?.width ?? 0;
  say(
    `of ${tiers.length} tiers ${inside(tiers).toFixed(1)} % lay in their bands, half of which are narrower than ${(100 * width(tiers)).toFixed(1)} %`,
  );
  return [
    {
      ...{ id: 'q what came, in the 95 % band / 92 of 100', ours: inside(kept), peer: wanted },
      ...{ ratio: inside(kept) / wanted, floor: 1 },
    },
    {
      ...{ id: 'q 8 % / median width of the band', ours: 100 * width(kept), peer: 100 * widest },
      ...{ ratio: widest / width(kept), floor: 1 },
    },
  ];
}
