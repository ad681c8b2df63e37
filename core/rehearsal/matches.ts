import type { Condition } from '../conditions/condition.ts';
import { type EventBatch, eventAt } from '../events/batch.ts';
import type { CompiledPlan } from '../plan/compile.ts';
import type { PlanDocument } from '../plan/document.ts';
import type { TierDocument } from '../plan/parts/tiers/tiers-shape.ts';
import { seededRandom } from '../routing/route.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';

/** An event that a condition holds for. `time` in milliseconds. */
export interface MatchedLine {
  readonly time: number;
  readonly source: string;
  readonly body: string;
}

/** What a condition matches of taped events. Plain data; weights count, so amounts are those of what arrived. */
export interface Matches {
  /** All events that come as far as the condition is asked. */
  readonly of: Volume;
  readonly matched: Volume;
  /** What of it conditions before this one match already. */
  readonly covered: Volume;
  /** By reader, how many of the matched events it is about. */
  readonly read: number[];
  readonly lines: MatchedLine[];
}

/** Most matched lines that are shown. */
const mostLines = 5;
/** Longest text of a shown line, in characters. */
const longestLine = 300;

/** Nothing yet; `readers` is how many there are. */
export function newMatches(readers = 0): Matches {
  return {
    of: newVolume(),
    matched: newVolume(),
    covered: newVolume(),
    read: new Array<number>(readers).fill(0),
    lines: [],
  };
}

/**
 * A plan cut off at a tier, so that it is known what comes as far as a condition of it: for the tier's own condition what no
 * tier above takes; for one of its exclusions (`within`) what the tier takes.
 */
export function planUpTo(plan: PlanDocument, tier: string | undefined, within: boolean): PlanDocument {
  const place = plan.tiers.findIndex(({ id }) => id === tier);
  const above = place < 0 ? plan.tiers : plan.tiers.slice(0, place);
  const last: readonly TierDocument[] =
    within && place >= 0 ? [{ ...(plan.tiers[place] as TierDocument), exclusions: [] }] : [];
  // What postures are about is cut off too.
  const { postures: _, ...rest } = plan;
  return { ...rest, tiers: [...above.map((other) => ({ ...other, exclusions: [] })), ...last] };
}

/** What is asked of a batch: how much a condition matches of what comes to a tier, or of what the tier takes (`within`). */
export interface MatchesAsked {
  /** Of {@link planUpTo}. */
  readonly plan: CompiledPlan;
  readonly condition: Condition;
  readonly tier: string | undefined;
  readonly within: boolean;
  /** Conditions that are asked before this one. */
  readonly before?: readonly Condition[];
  /** Of those who read events by conditions of their own. */
  readonly readers?: readonly Condition[];
  readonly now: number;
  /** The id under which a shape goes now. */
  readonly currentShape?: (id: string) => string;
  /** The fleets that each source belongs to. */
  readonly fleets?: ReadonlyMap<string, readonly string[]>;
}

/** Adds what a condition matches of a batch of raw events, of those that a plan of {@link planUpTo} leaves for it. */
export function addMatches(
  matches: Matches,
  { plan, condition, tier, within, before = [], readers = [], now, currentShape, fleets }: MatchesAsked,
  batch: EventBatch,
): void {
  const context = { now, fleets: fleets?.get(batch.source) ?? [], ...(currentShape && { currentShape }) };
  const { arrived, fates, fateOf } = plan.run(batch, { ...context, random: seededRandom(1) });
  const matched = condition.test(arrived, context);
  const covering = before.map((other) => other.test(arrived, context));
  const reading = readers.map((reader) => reader.test(arrived, context));
  for (let row = 0; row < arrived.rows; row++) {
    const fate = fates[fateOf[row] as number];
    const reaches = within ? fate?.tier === tier : fate?.outcome === 'passing';
    if (!reaches) continue;
    const events = arrived.weight[row] as number;
    const volume = { events, bytes: events * (arrived.size[row] as number) };
    addVolume(matches.of, volume);
    if (matched[row] !== 1) continue;
    addVolume(matches.matched, volume);
    if (covering.some((mask) => mask[row] === 1)) addVolume(matches.covered, volume);
    reading.forEach((mask, reader) => {
      if (mask[row] === 1) matches.read[reader] = (matches.read[reader] ?? 0) + events;
    });
    if (matches.lines.length < mostLines) matches.lines.push(lineAt(arrived, row));
  }
}

/** Adds what another part of the tape came to. */
export function mergeMatches(matches: Matches, other: Matches): void {
  for (const part of ['of', 'matched', 'covered'] as const) addVolume(matches[part], other[part]);
  other.read.forEach((events, reader) => {
    matches.read[reader] = (matches.read[reader] ?? 0) + events;
  });
  matches.lines.push(...other.lines);
  matches.lines.sort((a, b) => b.time - a.time).splice(mostLines);
}

function lineAt(batch: EventBatch, row: number): MatchedLine {
  const { time, body, attributes } = eventAt(batch, row);
  const text = body !== '' ? body : JSON.stringify(attributes);
  return { time, source: batch.source, body: text.slice(0, longestLine) };
}
