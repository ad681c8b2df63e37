import type { Condition } from '#core/conditions/condition.ts';
import type { ConditionContext } from '#core/conditions/evaluate.ts';
import { mayHold } from '#core/conditions/may-hold.ts';
import { labelsBatch } from '#core/health/labels-batch.ts';

/** What all events of a segment share. */
interface SegmentOrigin {
  readonly source: string;
  readonly tier: string;
}

/** The present in milliseconds, and the fleets that each source belongs to. */
interface SegmentsContext extends Pick<ConditionContext, 'now'> {
  readonly fleets: ReadonlyMap<string, readonly string[]>;
}

const shared: ReadonlySet<string> = new Set(['source', 'tier', 'fleet']);

/**
 * Says of a segment whether it can hold events that a condition picks, judged by what all its events share: their source,
 * its fleets and the tier. Never false of one that holds such an event. Segments of one origin are judged once.
 */
export function mayHoldIn({ node }: Condition, { now, fleets }: SegmentsContext): (segment: SegmentOrigin) => boolean {
  const verdicts = new Map<string, boolean>();
  return ({ source, tier }) => {
    const origin = JSON.stringify([source, tier]);
    let verdict = verdicts.get(origin);
    if (verdict === undefined) {
      const context = { now, tier, fleets: fleets.get(source) ?? [] };
      verdict = mayHold(node, labelsBatch(source, {}), context, (field) => shared.has(field))[0] === 1;
      verdicts.set(origin, verdict);
    }
    return verdict;
  };
}
