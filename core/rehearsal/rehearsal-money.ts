import { type CostParts, wholeOf } from '../costs/cost-table.ts';
import { coinsOf, coinsOfParts, inCurrency, type Money } from '../costs/money.ts';
import type { VolumePrices } from '../costs/volume-prices.ts';
import type { PlanDocument } from '../plan/document.ts';
import { keepOf } from '../plan/retention.ts';
import type {
  MoneyRow,
  RehearsalAnswer,
  RehearsalFindings,
  RehearsalMoney,
  RehearsedFlow,
} from './rehearsal-answer.ts';
import type { FlowPlace } from './rehearse.ts';

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

/** Findings as they are answered; `times` is how often what was rehearsed comes in the time that is answered for (30: days of a month). */
export function answerWithMoney(
  { flows, ...findings }: RehearsalFindings,
  prices: VolumePrices | undefined,
  plans: RehearsedDocuments,
  times: number,
): RehearsalAnswer {
  return { ...findings, money: prices ? moneyOf(flows, findings.error, prices, plans, BigInt(times)) : null };
}

function moneyOf(
  flows: readonly RehearsedFlow[],
  error: number,
  prices: VolumePrices,
  plans: RehearsedDocuments,
  times: bigint,
): RehearsalMoney {
  const { currency } = prices;
  const priced = pricedFlows(flows, prices, plans);
  const places = new Map<string, Both>();
  for (const { place, live, draft } of priced) {
    const [, outcome, tier] = place;
    const id = outcome === 'kept' ? `kept ${tier}` : outcome;
    const known = places.get(id) ?? none;
    places.set(id, { live: known.live + wholeOf(live) * times, draft: known.draft + wholeOf(draft) * times });
  }
  const rows = rowsOf(places, currency.digits);
  const tiers = rows.filter(({ id }) => id.startsWith('kept '));
  const sum = (of: 'live' | 'draft'): number => rows.reduce((all, row) => all + row[of], 0);
  const uncertain = (of: 'live' | 'draft'): number =>
    inCurrency(priced.reduce((all, flow) => all + flow[of].kept + flow[of].stored, 0n) * times);
  return {
    currency,
    live: sum('live'),
    draft: sum('draft'),
    // Receiving costs the same with both plans.
    error: Math.round(error * Math.max(uncertain('live'), uncertain('draft')) * 10 ** currency.digits),
    tiers: tiers.map(({ id, ...coins }) => ({ id: id.slice('kept '.length), ...coins })),
    outcomes: rows.filter((row) => !tiers.includes(row)),
    rules: rulesOf(flows, priced, prices, plans, times),
  };
}

interface Both {
  readonly live: Money;
  readonly draft: Money;
}

const none: Both = { live: 0n, draft: 0n };

/** Amounts in coins that add up, for both plans; what costs the same has the same coins. */
function rowsOf(places: ReadonlyMap<string, Both>, digits: number): readonly MoneyRow[] {
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
): readonly MoneyRow[] {
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
