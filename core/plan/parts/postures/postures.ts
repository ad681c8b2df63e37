import type { PlanDocument } from '../../document.ts';
import { changed, diffList, type PlanChange } from '../../plan-change.ts';
import { itemAt, nameOf, numberAt } from '../named-item.ts';
import type { PathInPart, PlanPart, PlanPlace } from '../part.ts';
import { checkPostures } from './check-postures.ts';
import { describeOverride } from './describe-override.ts';
import type { PostureDocument } from './postures-shape.ts';

/** Named sets of overrides that can be switched on for a while. */
export const postures: PlanPart = {
  key: 'postures',
  noun: 'posture',
  items: ({ postures: all = [] }) => all,
  check: checkPostures,
  diff: (before, after) =>
    diffList(before.postures ?? [], after.postures ?? [], { path: 'postures', noun: 'posture' }, diffPosture),
  place: placeInPosture,
  fieldUses: () => ({ makers: [], readers: [] }),
  readers: () => [],
};

function diffPosture(before: PostureDocument, after: PostureDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  return [
    ...changed(path, `posture “${before.title}” has another title`, before.title, title),
    ...changed(path, `posture “${title}” has another reason`, before.reason, after.reason),
    ...changed(path, `posture “${title}” is for another fleet`, before.fleet, after.fleet),
    ...changed(path, `posture “${title}” changes other things`, overridesOf(before), overridesOf(after)),
  ];
}

function overridesOf({ overrides }: PostureDocument): string {
  return overrides.map(describeOverride).join('\n');
}

function placeInPosture(plan: PlanDocument, path: PathInPart): PlanPlace {
  const posture = itemAt(plan.postures ?? [], path);
  const [field, which, ...inside] = path.rest;
  const isOverride = field === 'overrides' && which !== undefined;
  const place = isOverride ? [`override ${numberAt(which, path.isCounted)}`, ...inside] : path.rest;
  return {
    words: [`Posture “${nameOf(posture, path.item)}”`, ...place].join(', '),
    ...(posture && { item: { part: 'postures', id: posture.id } }),
  };
}
