import type { PlanDocument } from '../plan/document.ts';
import { type Amount, amountOf, shareOf, type VolumeSum } from './volumes.ts';

/** A stream of the flow map. */
export interface FlowLink extends Amount {
  readonly from: string;
  readonly to: string;
}

/** A place of the flow map. `kind` says where it stands and how it is drawn. */
export interface FlowNode extends Amount {
  readonly id: string;
  readonly title: string;
  readonly kind: 'source' | 'parsed' | 'unparsed' | 'tier' | 'excluded' | 'passing' | 'rejected';
}

export interface FlowMap {
  readonly nodes: readonly FlowNode[];
  readonly links: readonly FlowLink[];
}

/** One day (or hour) of volume, by where it went. */
export interface VolumeSlice {
  readonly start: number;
  readonly places: Readonly<Record<string, Amount>>;
}

export interface OverviewView {
  readonly flow: FlowMap;
  /** What arrived in the last day. */
  readonly arrived: Amount;
  readonly kept: Amount;
  readonly keptShare: number;
  readonly parsedShare: number;
  readonly sources: number;
  readonly slices: readonly VolumeSlice[];
  /** The places of the slices, bottom first. */
  readonly places: readonly { readonly id: string; readonly title: string; readonly kind: FlowNode['kind'] }[];
}

/** Sources drawn one by one; the smaller ones are drawn together. */
const mostSources = 8;

interface Place {
  readonly id: string;
  readonly title: string;
  readonly kind: FlowNode['kind'];
}

/** Where an event went, for pictures. */
function placeOf(sum: VolumeSum, plan: PlanDocument): Place {
  switch (sum.outcome) {
    case 'kept': {
      const tier = plan.tiers.find((candidate) => candidate.id === sum.tier);
      return { id: `tier:${sum.tier}`, title: tier ? `${tier.title} · ${tier.keep}` : (sum.tier ?? ''), kind: 'tier' };
    }
    case 'excluded':
    case 'sampled-out':
      return { id: 'excluded', title: 'Excluded', kind: 'excluded' };
    case 'passing':
      return { id: 'passing', title: 'Passing · 1 h', kind: 'passing' };
    case 'overflowed':
      return { id: 'overflowed', title: 'Past a cap', kind: 'excluded' };
    case 'expired':
      return { id: 'expired', title: 'Expired on arrival', kind: 'excluded' };
    case 'lost':
      return { id: 'lost', title: 'Lost', kind: 'rejected' };
    default:
      return { id: 'rejected', title: 'Rejected', kind: 'rejected' };
  }
}

/**
 * The overview from two sums over the ledger: `day` (the last 24 hours by source, parsed, outcome and tier) and `slices`
 * (longer, by outcome and tier, in equal stretches).
 */
export function overviewView(
  day: readonly VolumeSum[],
  slices: readonly VolumeSum[],
  plan: PlanDocument,
): OverviewView {
  const arrived = amountOf(day);
  const kept = amountOf(day.filter((sum) => sum.outcome === 'kept'));
  const sources = new Set(day.map((sum) => sum.source));
  const starts = [...new Set(slices.map((sum) => sum.start))].sort((a, b) => a - b);
  const places = orderedPlaces(slices, plan);
  return {
    flow: flowMap(day, plan),
    arrived,
    kept,
    keptShare: shareOf(kept.bytes, arrived.bytes),
    parsedShare: shareOf(amountOf(day.filter((sum) => sum.parsed)).events, arrived.events),
    sources: sources.size,
    places,
    slices: starts.map((start) => {
      const here = slices.filter((sum) => sum.start === start);
      const amounts = places.map(
        ({ id }) => [id, amountOf(here.filter((sum) => placeOf(sum, plan).id === id))] as const,
      );
      return { start, places: Object.fromEntries(amounts) };
    }),
  };
}

const kindOrder: readonly FlowNode['kind'][] = ['tier', 'passing', 'excluded', 'rejected'];

function orderedPlaces(sums: readonly VolumeSum[], plan: PlanDocument): readonly Place[] {
  const places = new Map<string, Place>();
  for (const sum of sums) {
    const place = placeOf(sum, plan);
    places.set(place.id, place);
  }
  const rank = (place: Place): number => {
    const tier = plan.tiers.findIndex((candidate) => `tier:${candidate.id}` === place.id);
    return kindOrder.indexOf(place.kind) * 1000 + (tier < 0 ? 500 : tier);
  };
  return [...places.values()].sort((a, b) => rank(a) - rank(b));
}

function flowMap(day: readonly VolumeSum[], plan: PlanDocument): FlowMap {
  const bySource = new Map<string, VolumeSum[]>();
  for (const sum of day) {
    const sums = bySource.get(sum.source ?? '');
    if (sums) sums.push(sum);
    else bySource.set(sum.source ?? '', [sum]);
  }
  const ranked = [...bySource].sort((a, b) => amountOf(b[1]).bytes - amountOf(a[1]).bytes);
  const alone = new Set(
    ranked.slice(0, ranked.length > mostSources + 1 ? mostSources : ranked.length).map(([name]) => name),
  );
  const smaller = ranked.length - alone.size;
  const sourceOf = (sum: VolumeSum): Place =>
    alone.has(sum.source ?? '')
      ? { id: `source:${sum.source}`, title: sum.source ?? '', kind: 'source' }
      : { id: 'source:', title: `${smaller} smaller`, kind: 'source' };
  const parsedOf = (sum: VolumeSum): Place =>
    sum.parsed
      ? { id: 'parsed', title: 'Parsed', kind: 'parsed' }
      : { id: 'unparsed', title: 'Unparsed', kind: 'unparsed' };
  const nodes = new Map<string, FlowNode>();
  const links = new Map<string, FlowLink>();
  const add = (place: Place, sum: Amount): void => {
    const node = nodes.get(place.id);
    nodes.set(place.id, { ...place, events: (node?.events ?? 0) + sum.events, bytes: (node?.bytes ?? 0) + sum.bytes });
  };
  const connect = (from: Place, to: Place, sum: Amount): void => {
    const key = `${from.id}→${to.id}`;
    const link = links.get(key);
    links.set(key, {
      from: from.id,
      to: to.id,
      events: (link?.events ?? 0) + sum.events,
      bytes: (link?.bytes ?? 0) + sum.bytes,
    });
  };
  for (const [, sums] of ranked) {
    for (const sum of sums) {
      if (sum.events === 0) continue;
      const source = sourceOf(sum);
      const parsed = parsedOf(sum);
      const place = placeOf(sum, plan);
      for (const node of [source, parsed, place]) add(node, sum);
      connect(source, parsed, sum);
      connect(parsed, place, sum);
    }
  }
  return { nodes: [...nodes.values()], links: [...links.values()] };
}
