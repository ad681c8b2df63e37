import { type CostParts, wholeOf } from '../costs/cost-table.ts';
import { coinsOf, coinsOfParts, inCurrency, type Money } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import type { PlanDocument } from '../plan/document.ts';
import { keepOf } from '../plan/retention.ts';
import { grouped } from '../tables/grouped.ts';
import { type Bands, bandsOf } from './bands.ts';
import { type FlowPlace, flowsOfMoves, type RehearsedFlow } from './flows.ts';
import type { Move } from './moves.ts';
import type { MoneyRow, RehearsalAnswer, RehearsalFindings, RehearsalMoney } from './rehearsal-answer.ts';
import { type Budgets, surgeMoney } from './surge-money.ts';
import { isNowhere, type Place } from './transitions.ts';

/** The plans whose retentions count. */
export interface RehearsedDocuments {
  readonly live: PlanDocument;
  readonly draft: PlanDocument;
}

interface PricedFlow {
  readonly place: FlowPlace;
  readonly live: CostParts;
  readonly draft: CostParts;
}

function pricedFlows(
  flows: readonly RehearsedFlow[],
  { costOf }: VolumePrices,
  plans: RehearsedDocuments,
): readonly PricedFlow[] {
  return flows.map(({ place, live, draft }) => {
    const [source, outcome, tier] = place;
    const priced = (volume: RehearsedFlow['live'], plan: PlanDocument): CostParts =>
      costOf({ source, outcome, tier, ...volume }, { keepOf: (id) => keepOf(plan, id) ?? 0 });
    return { place, live: priced(live, plans.live), draft: priced(draft, plans.draft) };
  });
}

/** How much more what flows costs with the draft. */
export function addedCost(flows: readonly RehearsedFlow[], prices: VolumePrices, plans: RehearsedDocuments): Money {
  return pricedFlows(flows, prices, plans).reduce((sum, { live, draft }) => sum + wholeOf(draft) - wholeOf(live), 0n);
}

/** Adds costs to findings; without prices there are none. */
export function answerWithMoney(
  { form: _, moves, shapeMoves, owners, ...findings }: RehearsalFindings,
  { prices, plans, times, month }: AnswerPrices,
): RehearsalAnswer {
  if (!prices) return { ...findings, money: null };
  const { span } = findings;
  const money = moneyOf(moves, { prices, plans, span, times });
  const rows = (list: readonly Move[], idOf: (move: Move) => string): readonly MoneyRow[] =>
    changedRows(list, idOf, { prices, plans, span, times });
  const sources = rows(moves, ({ source }) => source);
  const teams = rows(moves, ({ source }) => owners[source] ?? '').filter(({ id }) => id !== '');
  const ownerOf = (source: string): string => owners[source] ?? '';
  const surge = findings.surge
    ? surgeMoney(moves, (move, of) => coinsOfMove(move, of, { prices, plans, span, times: 1 }), { ...month, ownerOf })
    : null;
  return { ...findings, money: { ...money, sources, teams, shapes: rows(shapeMoves, ({ shape }) => shape), surge } };
}

/** What the costs of an answer follow from. */
export interface AnswerPrices {
  readonly prices: VolumePrices | undefined;
  readonly plans: RehearsedDocuments;
  /** How often the rehearsed volume occurs in the answered time: 30 for the days of a month. */
  readonly times: number;
  /** The budgets that a surge may touch. */
  readonly month: Omit<Budgets, 'ownerOf'>;
}

/** The prices and plans for amounts of money. */
interface Reckoning {
  readonly prices: VolumePrices;
  readonly plans: RehearsedDocuments;
  /** The number of averaged days; 0 for events that arrive once. */
  readonly span: number;
  /** How often the rehearsed volume occurs in the answered time: 30 for the days of a month. */
  readonly times: number;
}

function moneyOf(
  moves: readonly Move[],
  reckoning: Reckoning,
): Omit<RehearsalMoney, 'sources' | 'teams' | 'shapes' | 'surge'> {
  const { prices, plans } = reckoning;
  const { currency } = prices;
  const times = BigInt(reckoning.times);
  const flows = flowsOfMoves(moves);
  const priced = pricedFlows(flows, prices, plans);
  const places = new Map<string, Both>();
  for (const { place, live, draft } of priced) {
    const [, outcome, tier] = place;
    const id = idOfPlace(outcome, tier);
    const known = places.get(id) ?? none;
    places.set(id, { live: known.live + wholeOf(live) * times, draft: known.draft + wholeOf(draft) * times });
  }
  const bands = coinBands(moves, reckoning);
  const rows = rowsOf(places, currency.digits).map((row) => ({
    ...row,
    bands: bands(([outcome, tier]) => idOfPlace(outcome, tier) === row.id),
  }));
  const tiers = rows.filter(({ id }) => id.startsWith('kept '));
  const sum = (of: 'live' | 'draft'): number => rows.reduce((all, row) => all + row[of], 0);
  return {
    currency,
    live: sum('live'),
    draft: sum('draft'),
    bands: bands(() => true),
    tiers: tiers.map(({ id, ...coins }) => ({ id: id.slice('kept '.length), ...coins })),
    outcomes: rows.filter((row) => !tiers.includes(row)),
    rules: rulesOf(flows, priced, prices, plans, times),
  };
}

function idOfPlace(outcome: string, tier: string): string {
  return outcome === 'kept' ? `kept ${tier}` : outcome;
}

/** The cost of a move with one of the plans, in coins. */
function coinsOfMove(move: Move, of: 'live' | 'draft', { prices, plans, times }: Reckoning): number {
  if (isNowhere(move[of])) return 0;
  const [outcome, tier] = move[of];
  const volume = { source: move.source, outcome, tier, events: move.events, bytes: move.bytes };
  const parts = prices.costOf(volume, { keepOf: (id) => keepOf(plans[of], id) ?? 0 });
  return inCurrency(wholeOf(parts)) * times * 10 ** prices.currency.digits;
}

/** Bands of the cost of some places, in coins. */
function coinBands(moves: readonly Move[], reckoning: Reckoning): (isCounted: (place: Place) => boolean) => Bands {
  const costs = new Map(
    moves.map((move) => [
      move,
      { live: coinsOfMove(move, 'live', reckoning), draft: coinsOfMove(move, 'draft', reckoning) },
    ]),
  );
  return (isCounted) => {
    const coefficient = (of: 'live' | 'draft') => (move: Move) =>
      move.bytes > 0 && isCounted(move[of]) ? (costs.get(move)?.[of] ?? 0) / move.bytes : 0;
    const { draft, change } = bandsOf(moves, coefficient('live'), coefficient('draft'), reckoning.span);
    return { draft: Math.round(draft), change: Math.round(change) };
  };
}

/** Rows whose cost changes, the largest change first. */
function changedRows(moves: readonly Move[], idOf: (move: Move) => string, reckoning: Reckoning): readonly MoneyRow[] {
  const change = ({ live, draft }: Pick<MoneyRow, 'live' | 'draft'>): number => Math.abs(draft - live);
  return [...grouped(moves, idOf)]
    .map(([id, list]) => {
      const coins = (of: 'live' | 'draft'): number =>
        Math.round(list.reduce((sum, move) => sum + coinsOfMove(move, of, reckoning), 0));
      return { id, list, live: coins('live'), draft: coins('draft') };
    })
    .filter((row) => change(row) > 0)
    .sort((a, b) => change(b) - change(a))
    .map(({ list, ...row }) => ({ ...row, bands: coinBands(list, reckoning)(() => true) }));
}

interface Both {
  readonly live: Money;
  readonly draft: Money;
}

const none: Both = { live: 0n, draft: 0n };

/** Amounts in coins that add up, for both plans; what costs the same has the same coins. */
function rowsOf(places: ReadonlyMap<string, Both>, digits: number): readonly Omit<MoneyRow, 'bands'>[] {
  const amounts = [...places.values()];
  const live = coinsOfParts(
    amounts.map((both) => both.live),
    digits,
  );
  const changes = coinsOfParts(
    amounts.map((both) => both.draft - both.live),
    digits,
  );
  return [...places.keys()].map((id, i) => {
    const now = live[i] ?? 0;
    return { id, live: now, draft: now + (changes[i] ?? 0) };
  });
}

function rulesOf(
  flows: readonly RehearsedFlow[],
  priced: readonly PricedFlow[],
  prices: VolumePrices,
  plans: RehearsedDocuments,
  times: bigint,
): RehearsalMoney['rules'] {
  const isRule = ({ place: [, outcome, tier, rule] }: { readonly place: FlowPlace }): boolean =>
    outcome !== 'kept' && tier !== '' && rule !== '';
  const removed = priced.filter(isRule);
  const asKept = pricedFlows(
    flows.filter(isRule).map(({ place: [source, , tier, rule], ...volumes }) => ({
      place: [source, 'kept', tier, rule] as const,
      ...volumes,
    })),
    prices,
    plans,
  );
  const rules = new Map<string, Both>();
  removed.forEach(({ place: [, , tier, rule], ...gone }, i) => {
    const kept = asKept[i] ?? gone;
    const id = `${tier}/${rule}`;
    const known = rules.get(id) ?? none;
    const saved = (of: 'live' | 'draft'): Money => known[of] + (wholeOf(kept[of]) - wholeOf(gone[of])) * times;
    rules.set(id, { live: saved('live'), draft: saved('draft') });
  });
  return [...rules].map(([id, { live, draft }]) => ({
    id,
    live: coinsOf(live, prices.currency.digits),
    draft: coinsOf(draft, prices.currency.digits),
  }));
}
