import type { ConditionNode } from '../../conditions/ast.ts';
import { compileCondition } from '../../conditions/condition.ts';
import { canNeverHold, impliesAny } from '../../conditions/relate.ts';
import type { PlanDocument } from '../document.ts';
import type { TierDocument } from '../parts/tiers/tiers-shape.ts';
import type { PlanDoubt } from './plan-doubt.ts';

/**
 * Tiers to which nothing comes, because those above take all that they would match, and exclusions that can never match or
 * are decided above: as far as the conditions of a plan say so by themselves. Those that are wrong say nothing.
 */
export function orderDoubts({ tiers }: PlanDocument): readonly PlanDoubt[] {
  const whens = tiers.map(({ when = '' }) => nodeOf(when));
  return tiers.flatMap((tier, i) => {
    const when = whens[i];
    if (!when) return [];
    const above = whens.slice(0, i).filter((node) => node !== undefined);
    const path = `tiers[${i}]`;
    if (impliesAny(when, above))
      return [
        {
          path: tier.when === undefined ? path : `${path}.when`,
          message: 'nothing comes this far: the tiers above take all that it would match',
        },
      ];
    return exclusionDoubts(tier, path, when, above);
  });
}

function nodeOf(condition: string): ConditionNode | undefined {
  const compiled = compileCondition(condition);
  return compiled.ok ? compiled.condition.node : undefined;
}

function exclusionDoubts(
  { exclusions = [] }: TierDocument,
  path: string,
  when: ConditionNode,
  above: readonly ConditionNode[],
): readonly PlanDoubt[] {
  const nodes = exclusions.map((one) => nodeOf(one.when));
  return exclusions.flatMap((_, k): readonly PlanDoubt[] => {
    const own = nodes[k];
    if (!own) return [];
    const meant: ConditionNode = { kind: 'and', parts: [when, own] };
    const at = `${path}.exclusions[${k}].when`;
    if (canNeverHold([meant])) return [{ path: at, message: 'it can never match: the tier takes no such events' }];
    if (impliesAny(meant, above))
      return [{ path: at, message: 'it can never match: tiers above take all such events' }];
    // One that ends leaves the events to those below.
    const before = nodes
      .slice(0, k)
      .flatMap((node, place) => (node && exclusions[place]?.until === undefined ? [node] : []));
    return impliesAny(meant, before)
      ? [{ path: at, message: 'it decides nothing: exclusions above decide on all that it would match' }]
      : [];
  });
}
