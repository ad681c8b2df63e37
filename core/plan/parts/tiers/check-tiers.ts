import { passingTier, rejectsTier } from '../../../routing/built-in-tiers.ts';
import { parseDayAmount } from '../../../routing/cap.ts';
import { isZone } from '../../../routing/day-of-zone.ts';
import { keptOneIn } from '../../../routing/kept-share.ts';
import type { PlanDocument } from '../../document.ts';
import { checkCondition, checkIds, type PlanProblem, problemIf } from '../../plan-problem.ts';
import { isRetention } from '../retention-bounds.ts';
import type { ExclusionDocument, TierDocument } from './tiers-shape.ts';

const builtIn: readonly string[] = [passingTier.id, rejectsTier.id];

/** The message for a share that cannot be read. */
export const shareProblem = 'keep is none, all, or 1 in a number from 2 to 1,000,000';

/** What is wrong with tiers, their exclusions and caps. */
export function checkTiers({ tiers }: PlanDocument): readonly PlanProblem[] {
  return [...checkIds(tiers, 'tiers'), ...tiers.flatMap((tier, i) => checkTier(tier, i, tiers))];
}

function checkTier(tier: TierDocument, place: number, tiers: readonly TierDocument[]): readonly PlanProblem[] {
  const path = `tiers[${place}]`;
  const { id, when = '', keep, exclusions = [] } = tier;
  return [
    ...problemIf(builtIn.includes(id), `${path}.id`, `${id} is a tier that is built in`),
    ...checkCondition(when, `${path}.when`),
    ...problemIf(
      !isRetention(keep),
      `${path}.keep`,
      `${keep} is no duration of a minute or more, such as 30d, up to 100 years`,
    ),
    ...checkCap(tier, place, tiers),
    ...checkIds(exclusions, `${path}.exclusions`),
    ...exclusions.flatMap((exclusion, k) => checkExclusion(exclusion, `${path}.exclusions[${k}]`)),
  ];
}

function checkExclusion({ when, keep, until }: ExclusionDocument, path: string): readonly PlanProblem[] {
  return [
    ...checkCondition(when, `${path}.when`),
    ...problemIf(keptOneIn(keep) === undefined, `${path}.keep`, shareProblem),
    ...problemIf(
      until !== undefined && Number.isNaN(Date.parse(until)),
      `${path}.until`,
      'until is a time such as 2026-11-27T18:00:00Z',
    ),
  ];
}

/** The cap of a tier at a place of the plan. */
function checkCap({ id, cap }: TierDocument, place: number, tiers: readonly TierDocument[]): readonly PlanProblem[] {
  if (!cap) return [];
  const path = `tiers[${place}].cap`;
  const to = typeof cap.over === 'string' ? undefined : cap.over.tier;
  const target = tiers.findIndex((tier) => tier.id === to);
  return [
    ...problemIf(
      !parseDayAmount(cap.day),
      `${path}.day`,
      `${cap.day} is no amount a day, such as 2 GB or 500000 events`,
    ),
    ...problemIf(
      cap.zone !== undefined && !isZone(cap.zone),
      `${path}.zone`,
      `${cap.zone} is not a time zone, such as Europe/Oslo or UTC`,
    ),
    ...problemIf(
      to !== undefined && target <= place,
      `${path}.over`,
      target < 0
        ? `there is no tier ${to}`
        : `what is past a cap goes down the stream, and ${to} does not stand below ${id}`,
    ),
  ];
}
