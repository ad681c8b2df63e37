import type { FlowMap, FlowNode, OverviewView, VolumePlace } from '../answers/overview.ts';
import { wholeOf } from '../costs/cost-table.ts';
import { coinsOfParts, type Money } from '../costs/money.ts';
import { flowOf } from '../costs/retention/lifetime.ts';
import { sharedStored } from '../costs/shared-stored.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import type { PlanDocument } from '../plan/document.ts';
import { type Amount, amountOf, type PricedAmount, shareOf, type VolumeSum } from '../routing/volume-sums.ts';
import { tierShades } from './tier-shades.ts';

/** Shares of what arrived, from 0 to 1: of its events those that were parsed, of its bytes those that were kept. */
export function daySharesOf(day: readonly VolumeSum[]): Pick<OverviewView, 'keptShare' | 'parsedShare'> {
  const arrived = amountOf(day);
  return {
    keptShare: shareOf(amountOf(day.filter((sum) => sum.outcome === 'kept')).bytes, arrived.bytes),
    parsedShare: shareOf(amountOf(day.filter((sum) => sum.parsed)).events, arrived.events),
  };
}

/** Sources drawn one by one; the smaller ones are drawn together. */
const mostSources = 8;

/** A plan, and the ids of all current and former tiers, the oldest first. */
export interface DrawnPlan {
  readonly plan: PlanDocument;
  readonly tiersByAge: readonly string[];
}

/** Maps a sum of volume to the place where it is drawn. */
type Places = (sum: VolumeSum) => VolumePlace;

function placesOf({ plan, tiersByAge }: DrawnPlan): Places {
  const shades = tierShades(plan, tiersByAge);
  return (sum) => {
    switch (sum.outcome) {
      case 'kept': {
        const id = sum.tier ?? '';
        const tier = plan.tiers.find((candidate) => candidate.id === id);
        const title = tier ? `${tier.title} · ${tier.keep}` : id;
        return { id: `tier:${id}`, title, kind: 'tier', shade: shades.get(id) ?? 0 };
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
  };
}

/**
 * The overview from two sums over the ledger: `day` (the last 24 hours by source, parsed, outcome and tier) and `slices`
 * (longer, by outcome and tier, with prices by source too, in equal stretches). In each column of the map, and in each stretch,
 * coins add up to what is there in all.
 */
export function overviewView(
  day: readonly VolumeSum[],
  slices: readonly VolumeSum[],
  drawn: DrawnPlan,
  prices?: VolumePrices,
): OverviewView {
  const placeOf = placesOf(drawn);
  const arrived = amountOf(day);
  const kept = amountOf(day.filter((sum) => sum.outcome === 'kept'));
  const sources = new Set(day.map((sum) => sum.source));
  const priced = prices ? sharedStored(slices) : slices;
  const starts = [...new Set(slices.map((sum) => sum.start))].sort((a, b) => a - b);
  const places = orderedPlaces(slices, drawn.plan, placeOf);
  return {
    flow: flowMap(prices ? sharedStored(day) : day, placeOf, prices),
    currency: prices?.currency ?? null,
    arrived,
    kept,
    ...daySharesOf(day),
    sources: sources.size,
    places,
    slices: starts.map((start) => {
      const here = priced.filter((sum) => sum.start === start);
      const byPlace = places.map(({ id }) => here.filter((sum) => placeOf(sum).id === id));
      const coins = coinsWith(
        byPlace.map((sums) => sums.reduce((all, sum) => all + costOf(sum, prices, start), 0n)),
        prices,
      );
      const amounts = places.map(({ id }, i) => {
        return [id, { ...amountOf(byPlace[i] ?? []), coins: coins[i] ?? 0 }] as const;
      });
      return { start, places: Object.fromEntries(amounts) };
    }),
  };
}

const kindOrder: readonly FlowNode['kind'][] = ['tier', 'passing', 'excluded', 'rejected'];

function orderedPlaces(sums: readonly VolumeSum[], plan: PlanDocument, placeOf: Places): readonly VolumePlace[] {
  const places = new Map<string, VolumePlace>();
  for (const sum of sums) {
    const place = placeOf(sum);
    places.set(place.id, place);
  }
  const rank = (place: VolumePlace): number => {
    const tier = plan.tiers.findIndex((candidate) => `tier:${candidate.id}` === place.id);
    return kindOrder.indexOf(place.kind) * 1000 + (tier < 0 ? 500 : tier);
  };
  return [...places.values()].sort((a, b) => rank(a) - rank(b));
}

function costOf(sum: VolumeSum, prices: VolumePrices | undefined, at?: number): Money {
  return prices ? wholeOf(prices.costOf(flowOf(sum), { at })) : 0n;
}

function coinsWith(costs: readonly Money[], prices: VolumePrices | undefined): readonly number[] {
  return prices ? coinsOfParts(costs, prices.currency.digits) : [];
}

/** Something of the map while it is added up. */
interface Growing extends Amount {
  readonly cost: Money;
}

const nothing: Growing = { events: 0, bytes: 0, cost: 0n };

function grown(before: Growing = nothing, sum: Amount, cost: Money): Growing {
  return { events: before.events + sum.events, bytes: before.bytes + sum.bytes, cost: before.cost + cost };
}

function flowMap(day: readonly VolumeSum[], placeOf: Places, prices: VolumePrices | undefined): FlowMap {
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
  const sourceOf = (sum: VolumeSum): VolumePlace =>
    alone.has(sum.source ?? '')
      ? { id: `source:${sum.source}`, title: sum.source ?? '', kind: 'source' }
      : { id: 'source:', title: `${smaller} smaller`, kind: 'source' };
  const parsedOf = (sum: VolumeSum): VolumePlace =>
    sum.parsed
      ? { id: 'parsed', title: 'Parsed', kind: 'parsed' }
      : { id: 'unparsed', title: 'Unparsed', kind: 'unparsed' };
  const nodes = [
    new Map<string, Growing & VolumePlace>(),
    new Map<string, Growing & VolumePlace>(),
    new Map<string, Growing & VolumePlace>(),
  ];
  const links = [new Map<string, Growing & Ends>(), new Map<string, Growing & Ends>()];
  for (const [, sums] of ranked) {
    for (const sum of sums) {
      const cost = costOf(sum, prices);
      if (sum.events === 0 && cost === 0n) continue;
      const path = [sourceOf(sum), parsedOf(sum), placeOf(sum)];
      path.forEach((place, column) => {
        const known = nodes[column];
        known?.set(place.id, { ...place, ...grown(known.get(place.id), sum, cost) });
        const next = path[column + 1];
        const streams = links[column];
        if (!next || !streams) return;
        const key = `${place.id}→${next.id}`;
        streams.set(key, { from: place.id, to: next.id, ...grown(streams.get(key), sum, cost) });
      });
    }
  }
  return {
    nodes: nodes.flatMap((column) => inCoins([...column.values()], prices)),
    links: links.flatMap((column) => inCoins([...column.values()], prices)),
  };
}

interface Ends {
  readonly from: string;
  readonly to: string;
}

/** The amounts of a column with their costs in coins. */
function inCoins<Part extends Growing>(
  column: readonly Part[],
  prices: VolumePrices | undefined,
): readonly (Omit<Part, 'cost'> & PricedAmount)[] {
  const coins = coinsWith(
    column.map(({ cost }) => cost),
    prices,
  );
  return column.map(({ cost: _, ...part }, i) => ({ ...part, coins: coins[i] ?? 0 }));
}
