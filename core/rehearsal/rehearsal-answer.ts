import type { Currency } from '../costs/book/price-book.ts';
import { comparedParts, type RehearsedParts } from '../plan/parts/rehearsed-parts.ts';
import type { Volume } from '../routing/volume.ts';
import type { FlowPlace, PlanEffect, Rehearsal } from './rehearse.ts';

/** One row of the comparison: what live and draft make of it, a day. */
export interface RehearsalRow {
  readonly id: string;
  readonly live: Volume;
  readonly draft: Volume;
}

export interface RehearsalSource extends RehearsalRow {
  /** Share of the source's events that become fields, 0 to 1. */
  readonly liveParsed: number;
  readonly draftParsed: number;
}

/** Coins of live and draft. */
export interface MoneyRow {
  readonly id: string;
  readonly live: number;
  readonly draft: number;
}

/**
 * What live and draft cost once everything has its age, in coins: a tape's day as a month of 30, what comes once as it is. The
 * rows of tiers and outcomes add up to what they cost in all.
 */
export interface RehearsalMoney {
  readonly currency: Currency;
  readonly live: number;
  readonly draft: number;
  /** One standard error of the change, from the weights of the taped records. */
  readonly error: number;
  /** By tier: what it keeps. */
  readonly tiers: readonly MoneyRow[];
  /** By outcome: what is not kept. */
  readonly outcomes: readonly MoneyRow[];
  /** By rule (`tier/exclusion`): how much less what it takes away costs than if its tier kept it. */
  readonly rules: readonly MoneyRow[];
}

/** What comes from a source and meets the same fate by the same rule. */
export interface RehearsedFlow {
  readonly place: FlowPlace;
  readonly live: Volume;
  readonly draft: Volume;
}

/** What a rehearsal found. */
export interface RehearsalFindings extends Omit<RehearsalAnswer, 'money'> {
  readonly flows: readonly RehearsedFlow[];
}

/** Draft beside live over the same events; over the tape, scaled to a day. */
export interface RehearsalAnswer extends RehearsedParts {
  readonly at: number;
  /** Taped records that were run, and the arrivals that they stand for. */
  readonly taped: number;
  readonly arrived: Volume;
  /** Stretch of time that the tape covers, in milliseconds. */
  readonly from: number;
  readonly to: number;
  readonly tiers: readonly RehearsalRow[];
  readonly outcomes: readonly RehearsalRow[];
  readonly rules: readonly RehearsalRow[];
  readonly sources: readonly RehearsalSource[];
  readonly parsed: { readonly live: number; readonly draft: number };
  readonly kept: { readonly live: Volume; readonly draft: Volume };
  /** One standard error of a share, from the weights of the taped records (0 to 1). */
  readonly error: number;
  readonly failures: { readonly live: readonly [string, number][]; readonly draft: readonly [string, number][] };
  readonly tookMs: number;
  /** What both cost; null where nothing has a price. */
  readonly money: RehearsalMoney | null;
}

/** What a rehearsal over a window found; `started` is when it began, by the performance clock. */
export function answerOf(merged: Rehearsal, window: { from: number; to: number }, started: number): RehearsalFindings {
  const { events } = merged.live.arrived;
  return {
    at: Date.now(),
    taped: merged.taped,
    arrived: merged.live.arrived,
    ...window,
    tiers: rows(merged.live.tiers, merged.draft.tiers),
    outcomes: rows(merged.live.outcomes, merged.draft.outcomes),
    rules: rows(merged.live.rules, merged.draft.rules),
    flows: flowsOf(merged),
    sources: sourceRows(merged.live, merged.draft),
    parsed: {
      live: share(merged.live.parsed, merged.live.arrived),
      draft: share(merged.draft.parsed, merged.draft.arrived),
    },
    kept: { live: total(merged.live.tiers), draft: total(merged.draft.tiers) },
    error: events > 0 ? Math.sqrt(merged.squares) / events / 2 : 0,
    failures: { live: topFailures(merged.live), draft: topFailures(merged.draft) },
    ...comparedParts(merged.live.parts, merged.draft.parts, (window.to - window.from) / 1_000),
    tookMs: Math.round(performance.now() - started),
  };
}

function total(tiers: ReadonlyMap<string, Volume>): Volume {
  const sum = { events: 0, bytes: 0 };
  for (const { events, bytes } of tiers.values()) {
    sum.events += events;
    sum.bytes += bytes;
  }
  return sum;
}

function share(part: Volume, whole: Volume): number {
  return whole.events > 0 ? part.events / whole.events : 0;
}

const none: Volume = { events: 0, bytes: 0 };

function rows(live: ReadonlyMap<string, Volume>, draft: ReadonlyMap<string, Volume>): readonly RehearsalRow[] {
  const ids = [...new Set([...live.keys(), ...draft.keys()])];
  return ids.map((id) => ({ id, live: live.get(id) ?? none, draft: draft.get(id) ?? none }));
}

/** The flows of a rehearsal, live beside draft. */
export function flowsOf({ live, draft }: Rehearsal): readonly RehearsedFlow[] {
  return rows(live.flows, draft.flows).map(({ id, ...volumes }) => ({ place: JSON.parse(id), ...volumes }));
}

function sourceRows(live: PlanEffect, draft: PlanEffect): readonly RehearsalSource[] {
  return [...live.sources].map(([id, volumes]) => {
    const drafted = draft.sources.get(id) ?? volumes;
    return {
      id,
      live: volumes.kept,
      draft: drafted.kept,
      liveParsed: share(volumes.parsed, volumes.arrived),
      draftParsed: share(drafted.parsed, drafted.arrived),
    };
  });
}

function topFailures(effect: PlanEffect): readonly [string, number][] {
  return [...effect.failures].sort((a, b) => b[1] - a[1]).slice(0, 20);
}
