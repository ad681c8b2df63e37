import type { TimeWindow } from '../conditions/times.ts';
import { readingRule } from '../formats/read.ts';
import type { PlanDocument } from '../plan/document.ts';
import { mayTake } from '../plan/may-enter.ts';
import type { PlacedItem } from '../plan/parts/part.ts';
import { placeInWords } from '../plan/place-in-words.ts';
import { keepOf } from '../plan/retention.ts';
import { passingTier } from '../routing/built-in-tiers.ts';
import type { Outcome } from '../routing/ledger.ts';
import type { VolumeSum } from '../routing/volume-sums.ts';

/** What became of events that arrived in a window in which nothing is found. */
export interface EmptyReason {
  /**
   * `gone`: their tier has let them go since; `excluded` and `sampled-out`: by a rule; `rejected` and `discarded`: by a step;
   * `overflowed`: past the cap of a tier; `expired`: they came when their tier had let their time go; `lost`: they could not be stored.
   */
  readonly kind: 'gone' | 'excluded' | 'sampled-out' | 'rejected' | 'discarded' | 'expired' | 'overflowed' | 'lost';
  readonly events: number;
  /** The tier, rule or step, for people; empty where there is none. */
  readonly title: string;
  /** Where in the plan that is; absent where the plan has no such thing. */
  readonly item?: PlacedItem;
  /** Of what is gone: when its tier let go of the last of it, in milliseconds. */
  readonly since?: number;
}

/** Why a search may have found nothing. */
export interface WhyEmpty {
  /** Events that arrived in the window from sources that the condition may take. */
  readonly arrived: number;
  /** What became of those that are not stored; the most events first. */
  readonly reasons: readonly EmptyReason[];
}

/** Most reasons that are shown. */
const mostReasons = 6;

/**
 * Reads out of the ledger why nothing is found: `sums` are those of the window by source, outcome, tier and rule. What is
 * said is of the sources that the condition may take, whatever else it asks. `now` in milliseconds.
 */
export function whyEmpty(
  sums: readonly VolumeSum[],
  { condition, window, plan, now }: { condition: string; window: TimeWindow; plan: PlanDocument; now: number },
): WhyEmpty {
  const sources = new Map<string, boolean>();
  const isAsked = (source: string): boolean => {
    const known = sources.get(source) ?? mayTake(condition, source);
    sources.set(source, known);
    return known;
  };
  const asked = sums.filter(({ source = '' }) => isAsked(source));
  const reasons = new Map<string, EmptyReason>();
  for (const sum of asked) {
    const reason = reasonOf(sum, { window, plan, now });
    if (!reason) continue;
    const key = `${reason.kind} ${sum.tier} ${sum.rule}`;
    reasons.set(key, { ...reason, events: reason.events + (reasons.get(key)?.events ?? 0) });
  }
  return {
    arrived: asked.reduce((total, { events }) => total + events, 0),
    reasons: [...reasons.values()]
      .filter(({ events }) => events >= 0.5)
      .sort((a, b) => b.events - a.events)
      .slice(0, mostReasons),
  };
}

function reasonOf(
  { outcome = '', tier = '', rule = '', events }: VolumeSum,
  { window, plan, now }: { readonly window: TimeWindow; readonly plan: PlanDocument; readonly now: number },
): EmptyReason | undefined {
  const place = (path: string) => {
    const { words, item } = placeInWords(plan, path);
    return { events, title: words, ...(item && { item }) };
  };
  switch (outcome as Outcome) {
    case 'kept':
    case 'passing': {
      const kept = outcome === 'passing' ? passingTier.id : tier;
      // A tier that is no more has let everything go.
      const keep = keepOf(plan, kept) ?? 0;
      if (window.to > now - keep) return undefined;
      const named = kept === passingTier.id ? { events, title: passingTier.title } : place(`tiers/${tier}`);
      return { kind: 'gone', ...named, since: window.to + keep };
    }
    case 'excluded':
      // For an hour they are found in passing.
      if (window.to > now - passingTier.keep) return undefined;
      return { kind: 'excluded', ...place(`tiers/${tier}/exclusions/${rule}`) };
    case 'sampled-out':
      return { kind: 'sampled-out', ...place(`tiers/${tier}/exclusions/${rule}`) };
    case 'rejected':
    case 'discarded':
      if (rule === readingRule) return { kind: 'rejected', events, title: 'records that could not be read' };
      return { kind: outcome as 'rejected' | 'discarded', ...place(stepPath(rule)) };
    case 'overflowed':
      // What passes is found for an hour; what a sample stands for is not.
      if (rule !== 'sample' && window.to > now - passingTier.keep) return undefined;
      return { kind: 'overflowed', ...place(`tiers/${tier}`) };
    case 'expired':
      return { kind: 'expired', ...place(`tiers/${tier}`) };
    case 'lost':
      return { kind: 'lost', events, title: '' };
  }
}

/** `pipeline/2`, inside a choice `pipeline/2.1.1`: the path of the step. */
function stepPath(rule: string): string {
  const slash = rule.lastIndexOf('/');
  if (slash < 0) return `pipelines/${rule}`;
  const step = /^\d+/.exec(rule.slice(slash + 1))?.[0] ?? '';
  return `pipelines/${rule.slice(0, slash)}/steps/${step}`;
}
