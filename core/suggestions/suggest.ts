import type { Reader } from '../answers/routing.ts';
import type { Suggestion } from '../answers/suggestions.ts';
import { coinsSaved } from '../costs/coins-saved.ts';
import { daysOfMonth, type FlowVolume } from '../costs/retention/lifetime.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import { addVolume, newVolume } from '../routing/volume.ts';
import { piecesOf } from '../shapes/pieces.ts';
import type { ShapeFacts } from '../views/shapes.ts';
import type { ShapeUse, ShapeUses } from './shape-uses.ts';
import { isUnread, onlyCountedBy } from './who-reads.ts';

/** The least share of what is kept that a suggestion is about. */
const leastShare = 0.002;

/** What is needed to suggest something. */
export interface SuggestionSetting {
  readonly readers: readonly Omit<Reader, 'share'>[];
  readonly factsOf: (shape: string) => ShapeFacts | undefined;
  readonly prices: VolumePrices | undefined;
  /** For how many days usage has been recorded. */
  readonly recordedDays: number;
}

/** Lines count as unread only once usage has been recorded for this many days, so that weekly habits are seen. */
const leastRecorded = 7;

/**
 * What would save something, what saves most first, as a day's taped events tell. Lines that somebody said are wanted,
 * and those that mostly warn of something or are worse, are left alone.
 */
export function suggestionsOf(uses: ShapeUses, setting: SuggestionSetting): readonly Suggestion[] {
  const all = newVolume();
  for (const use of uses.values()) for (const flow of flowsOf(use)) addVolume(all, flow);
  return [...uses]
    .flatMap(([shape, use]) => suggestionOf(shape, use, all.bytes, setting) ?? [])
    .sort((a, b) => b.coins - a.coins || b.saved.bytes - a.saved.bytes);
}

function suggestionOf(
  shape: string,
  use: ShapeUse,
  allBytes: number,
  { readers, factsOf, prices, recordedDays }: SuggestionSetting,
): Suggestion | undefined {
  const flows = flowsOf(use);
  const saved = newVolume();
  for (const flow of flows) addVolume(saved, flow);
  const share = saved.bytes / Math.max(1, allBytes);
  const facts = factsOf(shape);
  if (!facts || facts.wanted || share < leastShare || use.serious > use.arrived.events / 2) return undefined;
  const shares = readers.map((reader, i) => ({ ...reader, share: (use.read[i] ?? 0) / use.arrived.events }));
  const metrics = onlyCountedBy(shares);
  if (metrics.length === 0 && (recordedDays < leastRecorded || !isUnread(shares))) return undefined;
  return {
    shape,
    pieces: piecesOf(facts.skeleton, facts.sample),
    sources: largestFirst(flows, ({ source }) => source),
    tiers: largestFirst(flows, ({ tier }) => tier),
    ...{ saved, share, metrics },
    coins: prices ? coinsSaved(flows, prices, daysOfMonth) : 0,
  };
}

function flowsOf({ kept }: ShapeUse): readonly FlowVolume[] {
  return [...kept].flatMap(([source, tiers]) =>
    [...tiers].map(([tier, volume]) => ({ source, tier, outcome: 'kept', ...volume })),
  );
}

function largestFirst(flows: readonly FlowVolume[], nameOf: (flow: FlowVolume) => string): readonly string[] {
  const bytes = new Map<string, number>();
  for (const flow of flows) bytes.set(nameOf(flow), (bytes.get(nameOf(flow)) ?? 0) + flow.bytes);
  return [...bytes].sort((a, b) => b[1] - a[1]).map(([name]) => name);
}
