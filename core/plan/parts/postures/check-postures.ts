import { nearest } from '../../../patterns/nearest.ts';
import { keptOneIn } from '../../../routing/kept-share.ts';
import type { PlanDocument } from '../../document.ts';
import { checkIds, type PlanProblem, problemIf } from '../../plan-problem.ts';
import { isRetention } from '../retention-bounds.ts';
import { shareProblem } from '../tiers/check-tiers.ts';
import type { TierDocument } from '../tiers/tiers-shape.ts';
import type { PostureOverride } from './postures-shape.ts';

/** What is wrong with postures: each override is about an exclusion or a tier that there is. */
export function checkPostures({ postures = [], tiers }: PlanDocument): readonly PlanProblem[] {
  return [
    ...checkIds(postures, 'postures'),
    ...postures.flatMap(({ overrides }, i) =>
      overrides.flatMap((override, k) => checkOverride(override, `postures[${i}].overrides[${k}]`, tiers)),
    ),
  ];
}

function checkOverride(
  override: PostureOverride,
  path: string,
  tiers: readonly TierDocument[],
): readonly PlanProblem[] {
  const { exclusion, tier } = override;
  if (exclusion !== undefined && tier === undefined) return checkOfExclusion(override, exclusion, path, tiers);
  if (tier !== undefined && exclusion === undefined) return checkOfTier(override, tier, path, tiers);
  return [{ path, message: 'an override is about an exclusion or about a tier: name one of them' }];
}

function checkOfExclusion(
  { keep = '', cap }: PostureOverride,
  exclusion: string,
  path: string,
  tiers: readonly TierDocument[],
): readonly PlanProblem[] {
  const known = tiers.flatMap(({ id, exclusions = [] }) => [`${id}/*`, ...exclusions.map((one) => `${id}/${one.id}`)]);
  const hint = nearest(exclusion, ['*', ...known]);
  return [
    ...problemIf(
      exclusion !== '*' && !known.includes(exclusion),
      `${path}.exclusion`,
      `there is no exclusion ${exclusion}; write tier/exclusion, tier/* or *${hint ? `; did you mean ${hint}?` : ''}`,
    ),
    ...problemIf(keptOneIn(keep) === undefined, `${path}.keep`, shareProblem),
    ...problemIf(cap !== undefined, `${path}.cap`, 'a cap is lifted of a tier, not of an exclusion'),
  ];
}

function checkOfTier(
  { keep = '', cap }: PostureOverride,
  tier: string,
  path: string,
  tiers: readonly TierDocument[],
): readonly PlanProblem[] {
  if (keep === '' && cap === undefined)
    return [{ path, message: 'say for how long the tier keeps at least, or that its cap is lifted' }];
  return [
    ...problemIf(!tiers.some(({ id }) => id === tier), `${path}.tier`, `there is no tier ${tier}`),
    ...problemIf(
      keep !== '' && !isRetention(keep),
      `${path}.keep`,
      `${keep} is no duration of a minute or more, such as 30d, up to 100 years`,
    ),
  ];
}
