import type { ShapeView } from '#core/answers/shapes.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { freeId } from '#core/plan/free-id.ts';
import type { ExclusionDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import { shapeWords } from '#core/shapes/pieces.ts';
import { withTier } from './draft.ts';

/** The exclusion of a tier that is about a shape, by its id; undefined where the tier keeps all of its lines. */
export function shapeExclusion(
  plan: PlanDocument | undefined,
  tierId: string,
  shape: string,
): ExclusionDocument | undefined {
  return plan?.tiers.find(({ id }) => id === tierId)?.exclusions?.find(({ when }) => when === conditionOf(shape));
}

/** A plan in which a tier keeps so much of a shape (`none`, `1 in 10`, `all`): its exclusion is changed, or added under the words of the shape. */
export function withShapeExclusion(
  plan: PlanDocument,
  tierId: string,
  { id: shape, pieces, sources }: Pick<ShapeView, 'id' | 'pieces' | 'sources'>,
  keep: string,
): PlanDocument {
  const known = shapeExclusion(plan, tierId, shape);
  return withTier(plan, tierId, (tier) => {
    const exclusions = tier.exclusions ?? [];
    if (known)
      return { ...tier, exclusions: exclusions.map((other) => (other.id === known.id ? { ...other, keep } : other)) };
    const words = titleOf(pieces, sources);
    const title = exclusions.some((other) => other.title === words) ? `${words} (${exclusions.length + 1})` : words;
    const id = freeId(
      title,
      exclusions.map((other) => other.id),
    );
    return { ...tier, exclusions: [...exclusions, { id, title, when: conditionOf(shape), keep }] };
  });
}

function conditionOf(shape: string): string {
  return `shape = ${shape}`;
}

function titleOf(pieces: ShapeView['pieces'], [source = '']: ShapeView['sources']): string {
  const words = shapeWords(pieces).replace(/\s+/g, ' ').trim();
  return `${source}: ${words}`.slice(0, 60);
}
