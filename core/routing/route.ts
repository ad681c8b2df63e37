import { type EventBatch, failureAttribute, overflowAttribute, withAttribute } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import type { PipelineContext, PipelineResult } from '../pipelines/run-pipelines.ts';
import type { Allowances } from './allowances.ts';
import { passingTier, rejectsTier } from './built-in-tiers.ts';
import { passedOnRule } from './cap.ts';
import { capTier } from './cap-tier.ts';
import type { CompiledTier } from './compiled-tier.ts';
import { exclude } from './exclude.ts';
import type { Fate, Routing } from './fate.ts';
import { type LedgerEntry, ledgerStart } from './ledger.ts';

export interface RouteContext extends PipelineContext {
  /** A number in [0, 1), for sampling by chance. */
  readonly random: () => number;
  /** Events that turn out to be older than this (milliseconds) count as if they had not come; absent: all count. */
  readonly since?: number | undefined;
  /** Whether events that their tier would have let go by `now` are not kept; a rehearsal judges them as they came. */
  readonly expires?: boolean;
  /** What tiers with caps may still take; absent: caps do not count. */
  readonly allowances?: Allowances | undefined;
}

/** The rows of a batch that one tier stores. */
export interface TierRows {
  readonly tier: string;
  /** The batch that the rows are of: events as the steps made them, rejects as they were read. */
  readonly batch: EventBatch;
  readonly rows: Int32Array;
}

/** A batch after its way through the plan. */
export interface RoutedBatch {
  /** The events as their pipelines made them, with the weights that they arrived with. */
  readonly arrived: EventBatch;
  /** The same events as they are stored: their weights stand for those that were sampled out. */
  readonly batch: EventBatch;
  /** What can become of the events, and by row which of it did (its place in `fates`). */
  readonly fates: readonly Fate[];
  readonly fateOf: Uint16Array;
  readonly tiers: readonly TierRows[];
  readonly ledger: readonly LedgerEntry[];
  /** Where an event is past a cap that refuses: the tier, and when its day ends (milliseconds). */
  readonly refusedBy?: { readonly tier: string; readonly until: number } | undefined;
}

/** Gives every event to the first tier that takes it, thins out by the tier's exclusions, and counts what became of all. */
export function routeBatch(piped: PipelineResult, tiers: readonly CompiledTier[], context: RouteContext): RoutedBatch {
  const { batch } = piped;
  const fates: Fate[] = [{ outcome: 'passing', tier: '', rule: '', storedIn: passingTier.id }];
  const fateOf = new Uint16Array(batch.rows);
  const open = new Uint8Array(batch.rows).fill(1);
  takeExits(piped, fates, fateOf, open);
  const weight = batch.weight.slice();
  const routing: Routing = { fates, fateOf, open, weight, passedOn: new Map(), overflowOf: new Map() };
  for (const tier of tiers) {
    takeTier(tier, batch, context, routing);
    if (tier.cap && context.allowances)
      capTier(tier.cap, tier.id, batch, { ...context, allowances: context.allowances }, routing);
  }
  const weighted = { ...batch, weight, unweighted: false };
  const routed = routing.overflowOf.size === 0 ? weighted : withOverflow(weighted, routing.overflowOf);
  const stored = storedRows(fates, fateOf).map(({ tier, rows }) => ({
    tier,
    rows,
    batch: tier === rejectsTier.id ? rejectedBatch(piped) : routed,
  }));
  return {
    arrived: batch,
    batch: routed,
    fates,
    fateOf,
    tiers: stored,
    ledger: count(batch, fates, fateOf, context.now),
    refusedBy: routing.refusedBy,
  };
}

/** Tells events that went past the cap of a tier, so that they can be found where they went. */
function withOverflow(batch: EventBatch, overflowOf: ReadonlyMap<number, string>): EventBatch {
  const text = textColumn(Array.from({ length: batch.rows }, (_, row) => overflowOf.get(row)));
  return withAttribute(batch, overflowAttribute, { text });
}

/** Rejects are kept as they were read, with the reason, so that they can be tried again after a fix. */
function rejectedBatch({ batch, read }: PipelineResult): EventBatch {
  return withAttribute(read, failureAttribute, batch.attributes.get(failureAttribute));
}

function takeExits(piped: PipelineResult, fates: Fate[], fateOf: Uint16Array, open: Uint8Array): void {
  if (piped.exits.length === 0) return;
  const first = fates.length - 1;
  for (const { outcome, rule } of piped.exits) {
    fates.push({ outcome, tier: '', rule, storedIn: outcome === 'rejected' ? rejectsTier.id : undefined });
  }
  for (let row = 0; row < fateOf.length; row++) {
    const exit = piped.fates[row] as number;
    if (exit === 0) continue;
    fateOf[row] = first + exit;
    open[row] = 0;
  }
}

function takeTier(tier: CompiledTier, batch: EventBatch, context: RouteContext, routing: Routing): void {
  const { fates, fateOf, open, passedOn } = routing;
  const passed = passedOn.get(tier.id);
  if (!passed && !open.includes(1)) return;
  const isTaken = tier.when.test(batch, context);
  const kept = fates.push({ outcome: 'kept', tier: tier.id, rule: '', storedIn: tier.id }) - 1;
  const expired = fates.push({ outcome: 'expired', tier: tier.id, rule: '', storedIn: undefined }) - 1;
  const oldest = context.expires ? context.now - tier.keep : Number.NEGATIVE_INFINITY;
  let any = false;
  for (let row = 0; row < isTaken.length; row++) {
    isTaken[row] = (isTaken[row] as number) & (open[row] as number);
    if (isTaken[row] === 0) continue;
    open[row] = 0;
    if ((batch.time[row] as number) < oldest) {
      isTaken[row] = 0;
      fateOf[row] = expired;
      continue;
    }
    any = true;
    fateOf[row] = kept;
  }
  for (const { from, rows } of passed ?? []) {
    const over = fates.push({ outcome: 'kept', tier: tier.id, rule: passedOnRule(from), storedIn: tier.id }) - 1;
    for (const row of rows) {
      const isLate = (batch.time[row] as number) < oldest;
      isTaken[row] = isLate ? 0 : 1;
      fateOf[row] = isLate ? expired : over;
    }
    any = true;
  }
  if (any) exclude(tier, { batch, isTaken, context }, routing);
}

function storedRows(fates: readonly Fate[], fateOf: Uint16Array): readonly Omit<TierRows, 'batch'>[] {
  const counts = new Map<string, number>();
  for (let row = 0; row < fateOf.length; row++) {
    const tier = (fates[fateOf[row] as number] as Fate).storedIn;
    if (tier !== undefined) counts.set(tier, (counts.get(tier) ?? 0) + 1);
  }
  return [...counts].map(([tier, length]) => {
    const rows = new Int32Array(length);
    let at = 0;
    for (let row = 0; row < fateOf.length; row++) {
      if ((fates[fateOf[row] as number] as Fate).storedIn === tier) rows[at++] = row;
    }
    return { tier, rows };
  });
}

function count(batch: EventBatch, fates: readonly Fate[], fateOf: Uint16Array, now: number): readonly LedgerEntry[] {
  const entries = new Map<number, LedgerEntry>();
  let last: LedgerEntry | undefined;
  let lastKey = -1;
  for (let row = 0; row < batch.rows; row++) {
    const start = ledgerStart(batch.received[row] as number, now);
    const fate = fateOf[row] as number;
    const parsed = batch.parsed[row] as number;
    const key = (start / 60_000) * 131_072 + fate * 2 + parsed;
    if (key !== lastKey || !last) {
      last = entries.get(key);
      if (!last) {
        const { outcome, tier, rule } = fates[fate] as Fate;
        last = {
          start,
          source: batch.source,
          outcome,
          tier,
          rule,
          parsed: parsed === 1,
          events: 0,
          bytes: 0,
          stored: 0,
        };
        entries.set(key, last);
      }
      lastKey = key;
    }
    const weight = batch.weight[row] as number;
    last.events += weight;
    last.bytes += weight * (batch.size[row] as number);
  }
  return [...entries.values()];
}

/** A repeatable source of chance in [0, 1) (G. Marsaglia, "Xorshift RNGs", 2003). */
export function seededRandom(seed: number): () => number {
  let state = seed | 0 || 0x2545f491;
  return () => {
    state ^= state << 13;
    state ^= state >>> 17;
    state ^= state << 5;
    return (state >>> 0) / 4_294_967_296;
  };
}
