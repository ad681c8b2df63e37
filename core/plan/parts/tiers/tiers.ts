import type { PlanDocument } from '../../document.ts';
import { type FieldUse, readByCondition, usesOf } from '../../field-use.ts';
import { itemAt, nameOf } from '../named-item.ts';
import type { PathInPart, PlanPart, PlanPlace } from '../part.ts';
import { checkTiers } from './check-tiers.ts';
import { diffTiers } from './diff-tiers.ts';
import type { ExclusionDocument, TierDocument } from './tiers-shape.ts';

/** Tiers that keep events, with their exclusions and caps. */
export const tiers: PlanPart = {
  key: 'tiers',
  noun: 'tier',
  items: ({ tiers: all }) => all,
  check: checkTiers,
  diff: (before, after) => diffTiers(before.tiers, after.tiers),
  place: placeInTier,
  fieldUses: (plan) => ({ makers: [], readers: plan.tiers.flatMap(readByTier) }),
  readers: (plan) =>
    plan.tiers.flatMap(({ exclusions = [] }) =>
      exclusions.map(({ title, when }) => ({ kind: 'exclusion' as const, name: title, condition: when })),
    ),
};

function placeInTier(plan: PlanDocument, path: PathInPart): PlanPlace {
  const tier = itemAt(plan.tiers, path);
  const whole = `Tier “${nameOf(tier, path.item)}”`;
  const [part, which, ...inside] = path.rest;
  const thing = tier && { part: 'tiers' as const, id: tier.id };
  if (part !== 'exclusions' || which === undefined)
    return {
      words: [whole, ...path.rest].join(', '),
      ...(thing && { item: { ...thing, ...(part !== undefined && { field: part }) } }),
    };
  const exclusion = itemAt(tier?.exclusions ?? [], { item: which, isCounted: path.isCounted });
  const [field] = inside;
  return {
    words: [whole, `exclusion “${nameOf(exclusion, which)}”`, ...inside].join(', '),
    ...(thing && {
      item: { ...thing, ...(exclusion && { exclusion: exclusion.id }), ...(field !== undefined && { field }) },
    }),
  };
}

function readByTier(tier: TierDocument): readonly FieldUse[] {
  return [
    ...readByCondition(tier.when ?? '', { at: tier.id, title: `tier “${tier.title}”` }),
    ...(tier.exclusions ?? []).flatMap((exclusion) => readByExclusion(tier, exclusion)),
  ];
}

function readByExclusion(tier: TierDocument, { id, title, when, by }: ExclusionDocument): readonly FieldUse[] {
  const place = { at: `${tier.id}/${id}`, title: `exclusion “${title}”` };
  return [...readByCondition(when, place), ...usesOf(by ? [by] : [], place)];
}
