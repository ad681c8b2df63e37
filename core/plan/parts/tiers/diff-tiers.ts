import { changed, diffList, type PlanChange } from '../../plan-change.ts';
import { durationInWords } from '../duration-in-words.ts';
import { describeCap } from './describe-cap.ts';
import type { ExclusionDocument, TierDocument } from './tiers-shape.ts';

/** What changed between two lists of tiers. */
export function diffTiers(before: readonly TierDocument[], after: readonly TierDocument[]): readonly PlanChange[] {
  return diffList(before, after, { path: 'tiers', noun: 'tier' }, diffTier);
}

function diffTier(before: TierDocument, after: TierDocument, path: string): readonly PlanChange[] {
  const { title, exclusions = [] } = after;
  return [
    ...changed(path, `tier “${before.title}” has another title`, before.title, title),
    ...changed(path, `“${title}” takes other events`, before.when, after.when),
    ...changed(path, `“${title}” keeps events for ${durationInWords(after.keep)}`, before.keep, after.keep),
    ...changed(path, `“${title}” ${describeCap(after.cap)}`, describeCap(before.cap), describeCap(after.cap)),
    ...diffList(
      before.exclusions ?? [],
      exclusions,
      { path: `${path}.exclusions`, noun: `exclusion in “${title}”` },
      diffExclusion,
    ),
  ];
}

function diffExclusion(before: ExclusionDocument, after: ExclusionDocument, path: string): readonly PlanChange[] {
  const name = `exclusion “${after.title}”`;
  return [
    ...changed(path, `exclusion “${before.title}” has another title`, before.title, after.title),
    ...changed(path, `${name} is for other events`, before.when, after.when),
    ...changed(path, `${name} keeps ${after.keep}`, before.keep, after.keep),
    ...changed(path, `${name} keeps together by ${after.by ?? 'nothing'}`, before.by, after.by),
    ...changed(path, after.until ? `${name} ends at ${after.until}` : `${name} stays`, before.until, after.until),
    ...changed(path, `${name} has another reason`, before.reason, after.reason),
    ...changed(path, `${name} has another owner`, before.owner, after.owner),
  ];
}
