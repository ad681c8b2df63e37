import type { ShapeFate, ShapesAnswer, ShapeView } from '../answers/shapes.ts';
import type { Condition } from '../conditions/condition.ts';
import { visit } from '../conditions/condition.ts';
import { exactCoinsSaved } from '../costs/coins-saved.ts';
import { wholeOf } from '../costs/cost-table.ts';
import { coinsOfParts } from '../costs/money.ts';
import type { FlowVolume } from '../costs/retention/lifetime.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import { textColumn } from '../events/columns.ts';
import { labelsBatch } from '../events/labels-batch.ts';
import { severityOfClass, severityWord } from '../events/severity.ts';
import { day } from '../events/time-units.ts';
import { holdingTier } from '../routing/holding-tier.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';
import { type Amount, amountOf } from '../routing/volume-sums.ts';
import { piecesOf } from '../shapes/pieces.ts';
import { otherShape } from '../shapes/shape-id.ts';
import type { Skeleton } from '../shapes/token.ts';

/** A sum over the volume of shapes; `start` in milliseconds, `severity` a class. */
export interface ShapeSumView extends Amount {
  readonly start: number;
  readonly shape: string;
  readonly source: string;
  readonly tier: string;
  readonly outcome: string;
  readonly severity: number;
}

/** What is known of a shape. */
export interface ShapeFacts {
  readonly id: string;
  readonly skeleton: Skeleton;
  readonly sample: string;
  readonly wanted: boolean;
}

/** The fields of conditions that can be asked about what was counted as events arrived. */
const countedFields: ReadonlySet<string> = new Set(['source', 'fleet', 'tier', 'severity', 'shape']);

/** Whether a condition can be asked about what was counted as events arrived. */
export function isAboutCounts({ node }: Pick<Condition, 'node'>): boolean {
  let isAll = true;
  visit(node, (part) => {
    if (part.kind === 'word' || ('field' in part && !countedFields.has(part.field.toLowerCase()))) isAll = false;
  });
  return isAll;
}

/** The sums that a condition is about (see {@link isAboutCounts}). */
export function sumsWith(
  sums: readonly ShapeSumView[],
  condition: Condition,
  setting: {
    readonly now: number;
    readonly fleets: ReadonlyMap<string, readonly string[]>;
    readonly currentShape: (id: string) => string;
  },
): readonly ShapeSumView[] {
  if (condition.text.trim() === '') return sums;
  const alike = new Map<string, ShapeSumView[]>();
  for (const sum of sums) {
    const key = `${sum.source}|${holdingTier(sum)}`;
    const list = alike.get(key);
    if (list) list.push(sum);
    else alike.set(key, [sum]);
  }
  return [...alike.values()].flatMap((list) => {
    const [first] = list;
    if (!first) return [];
    const batch = {
      ...labelsBatch(first.source, {}),
      rows: list.length,
      severity: Uint8Array.from(list, ({ severity }) => severityOfClass(severity)),
      shape: textColumn(list.map(({ shape }) => shape)),
    };
    const { now, fleets, currentShape } = setting;
    const context = { now, currentShape, tier: holdingTier(first), fleets: fleets.get(first.source) ?? [] };
    const mask = condition.test(batch, context);
    return list.filter((_, row) => mask[row] === 1);
  });
}

/** The window of a view of shapes, in slices; milliseconds. */
export interface ShapesWindow {
  readonly from: number;
  readonly to: number;
  readonly every: number;
}

/** When shapes were first and last met. */
export type ShapesSeen = ReadonlyMap<string, { readonly first: number; readonly last: number }>;

/** What is known of shapes besides the sums of a window. */
export interface ShapesKnown {
  /** By an id, also one that was merged; undefined for one that nobody knows. */
  readonly facts: (id: string) => ShapeFacts | undefined;
  readonly seen: ShapesSeen;
  /** Whether the sums were counted as events arrived, rather than over those that are stored. */
  readonly isCounted: boolean;
  /** Absent where nothing has a price. */
  readonly prices?: VolumePrices | undefined;
}

/** Most shapes that are shown one by one. */
const mostShown = 300;

/** The kinds of lines in a window, the largest first. Sums of ids that were merged count for what they are now. */
export function shapesView(
  sums: readonly ShapeSumView[],
  window: ShapesWindow,
  { facts, seen, isCounted, prices }: ShapesKnown,
): ShapesAnswer {
  const byShape = new Map<string, ShapeSumView[]>();
  for (const sum of sums) {
    const id = facts(sum.shape)?.id ?? sum.shape;
    const list = byShape.get(id);
    if (list) list.push(sum);
    else byShape.set(id, [sum]);
  }
  let earliest = Number.POSITIVE_INFINITY;
  for (const { first } of seen.values()) earliest = Math.min(earliest, first);
  const merged = seenNow(seen, facts);
  const views = [...byShape]
    .map(([id, list]) => shapeView(id, list, facts(id), merged.get(id), { window, earliest, prices }))
    .filter(({ events }) => events > 0)
    .sort((a, b) => b.bytes - a.bytes || b.events - a.events);
  const coins = prices
    ? coinsOfShapes(
        views.map(({ id }) => byShape.get(id) ?? []),
        prices,
      )
    : [];
  const priced = views.map((view, i): ShapeView => ({ ...view, coins: coins[i] ?? 0 }));
  const rest = priced.slice(mostShown);
  const coinsIn = (list: readonly ShapeView[]): number => list.reduce((sum, shape) => sum + shape.coins, 0);
  return {
    ...window,
    total: { ...amountOf(sums), coins: coinsIn(priced) },
    currency: prices?.currency ?? null,
    shapes: priced.slice(0, mostShown),
    rest: { ...amountOf(rest), coins: coinsIn(rest), shapes: rest.length },
    isCounted,
    leftOut: 0,
  };
}

/** What the lines of shapes cost until they are gone, in coins that add up. */
function coinsOfShapes(
  shapes: readonly (readonly ShapeSumView[])[],
  { costOf, currency }: VolumePrices,
): readonly number[] {
  const costs = shapes.map((sums) => flowsOf(sums).reduce((sum, flow) => sum + wholeOf(costOf(flow)), 0n));
  return coinsOfParts(costs, currency.digits);
}

/** Sums by source, tier and outcome. */
function flowsOf(sums: readonly ShapeSumView[]): readonly FlowVolume[] {
  const flows = new Map<string, FlowVolume & Volume>();
  for (const sum of sums) {
    const { source, tier, outcome } = sum;
    const key = `${source}\n${tier}\n${outcome}`;
    let flow = flows.get(key);
    if (!flow) flows.set(key, (flow = { source, tier, outcome, ...newVolume() }));
    addVolume(flow, sum);
  }
  return [...flows.values()];
}

/** When shapes were met, under the ids that they have now. */
function seenNow(seen: ShapesSeen, facts: (id: string) => ShapeFacts | undefined): ShapesSeen {
  const now = new Map<string, { first: number; last: number }>();
  for (const [before, { first, last }] of seen) {
    const id = facts(before)?.id ?? before;
    const known = now.get(id);
    now.set(id, { first: Math.min(known?.first ?? first, first), last: Math.max(known?.last ?? last, last) });
  }
  return now;
}

function shapeView(
  id: string,
  sums: readonly ShapeSumView[],
  facts: ShapeFacts | undefined,
  seen: { readonly first: number; readonly last: number } | undefined,
  {
    window,
    earliest,
    prices,
  }: { readonly window: ShapesWindow; readonly earliest: number; readonly prices: VolumePrices | undefined },
): Omit<ShapeView, 'coins'> {
  const { from, to, every } = window;
  const trend = new Array<number>(Math.max(1, Math.floor((to - from) / every))).fill(0);
  for (const { start, bytes } of sums) {
    const slice = Math.max(0, Math.floor((start - from) / every));
    // The last slice may have only begun: it would look like a fall.
    if (slice < trend.length) trend[slice] = (trend[slice] as number) + bytes;
  }
  const firstSeen = seen?.first ?? Math.min(...sums.map(({ start }) => start));
  const lastSeen = seen?.last ?? Math.max(...sums.map(({ start }) => start));
  const growth = growthOf(trend, window);
  const change = changeOf(trend, { firstSeen, earliest, window, hasGrown: growth !== undefined });
  return {
    id,
    pieces: facts ? piecesOf(facts.skeleton, facts.sample) : [{ kind: 'text', text: wordsFor(id) }],
    sources: ranked(sums, ({ source }) => source),
    severity: severityWord(severityOfClass(Number(ranked(sums, ({ severity }) => String(severity))[0] ?? 0))),
    ...amountOf(sums),
    trend,
    firstSeen,
    lastSeen,
    change,
    ...(change === 'grown' && growth && { growth }),
    fates: fatesOf(sums, prices),
    wanted: facts?.wanted ?? false,
  };
}

function wordsFor(id: string): string {
  if (id === '') return 'events from before shapes were looked at';
  return id === otherShape ? 'lines of more kinds than are told apart' : 'a kind of line that was met just now';
}

function ranked(sums: readonly ShapeSumView[], keyOf: (sum: ShapeSumView) => string): readonly string[] {
  const bytes = new Map<string, number>();
  for (const sum of sums) bytes.set(keyOf(sum), (bytes.get(keyOf(sum)) ?? 0) + sum.bytes + sum.events / 1e6);
  return [...bytes].sort((a, b) => b[1] - a[1]).map(([key]) => key);
}

function fatesOf(sums: readonly ShapeSumView[], prices: VolumePrices | undefined): readonly ShapeFate[] {
  const fates = new Map<string, { readonly outcome: string; readonly tier: string; readonly flows: FlowVolume[] }>();
  for (const flow of flowsOf(sums)) {
    const { outcome, tier } = flow;
    const key = `${outcome}|${tier}`;
    const known = fates.get(key);
    if (known) known.flows.push(flow);
    else fates.set(key, { outcome, tier, flows: [flow] });
  }
  return [...fates.values()]
    .map(({ flows, ...fate }) => ({ ...fate, ...amountOf(flows), saves: prices ? exactCoinsSaved(flows, prices) : 0 }))
    .filter(({ events }) => events > 0) // What was taken back, such as rejects that were tried again, leaves nothing.
    .sort((a, b) => b.bytes - a.bytes);
}

/** Fewest slices by which growing and stopping are judged. */
const fewestSlices = 8;

function changeOf(
  trend: readonly number[],
  {
    firstSeen,
    earliest,
    window: { to },
    hasGrown,
  }: {
    readonly firstSeen: number;
    readonly earliest: number;
    readonly window: ShapesWindow;
    readonly hasGrown: boolean;
  },
): ShapeView['change'] {
  // An installation that has just begun has nothing but new shapes.
  if (firstSeen >= to - day && firstSeen > earliest + day) return 'new';
  if (isGone(trend)) return 'gone';
  return hasGrown ? 'grown' : 'none';
}

/** It came in nearly all slices of the first three quarters, and in none of the last quarter. */
function isGone(trend: readonly number[]): boolean {
  if (trend.length < fewestSlices) return false;
  const last = Math.floor(trend.length * 0.75);
  const before = trend.slice(0, last);
  return trend.slice(last).every((bytes) => bytes === 0) && before.filter((bytes) => bytes > 0).length >= last * 0.8;
}

/** Fewest times as much as before that is shown. */
const leastGrowth = 3;

/** Where the volume has grown for good: the split with the greatest ratio of means, at least a quarter from either end. */
function growthOf(
  trend: readonly number[],
  { from, every }: ShapesWindow,
): { readonly times: number; readonly since: number } | undefined {
  const slices = trend.length;
  if (slices < fewestSlices) return undefined;
  let best: { times: number; since: number } | undefined;
  for (let at = Math.floor(slices / 4); at <= slices - Math.ceil(slices / 4); at++) {
    const before = mean(trend.slice(0, at));
    const after = trend.slice(at);
    if (before === 0) continue;
    const times = mean(after) / before;
    const staysUp = Math.min(...after) > before * (leastGrowth / 2);
    if (times >= leastGrowth && staysUp && times > (best?.times ?? 0)) best = { times, since: from + at * every };
  }
  return best;
}

function mean(values: readonly number[]): number {
  return values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;
}
