import { equals } from '../conditions/write.ts';
import type { PlanDocument } from './document.ts';
import type { PipelineDocument } from './parts/pipelines/pipelines-shape.ts';
import type { CapDocument, TierDocument } from './parts/tiers/tiers-shape.ts';

/** A ready change: another retention or a cap of a tier, or fields of a source that are left out. */
export type PlanEdit =
  | { readonly kind: 'retention'; readonly tier: string; readonly keep: string }
  | { readonly kind: 'cap'; readonly tier: string; readonly cap: CapDocument }
  | { readonly kind: 'remove-fields'; readonly source: string; readonly fields: readonly string[] };

/** The plan with a change; the same plan if its tier is gone. */
export function withPlanEdit(plan: PlanDocument, edit: PlanEdit): PlanDocument {
  if (edit.kind === 'remove-fields') return { ...plan, pipelines: withoutFields(plan.pipelines, edit) };
  const changed = (tier: TierDocument): TierDocument =>
    edit.kind === 'retention' ? { ...tier, keep: edit.keep } : { ...tier, cap: edit.cap };
  return { ...plan, tiers: plan.tiers.map((tier) => (tier.id === edit.tier ? changed(tier) : tier)) };
}

/** Pipelines of which the last one for the source takes fields out: events pass all pipelines that they match, in order. */
function withoutFields(
  pipelines: readonly PipelineDocument[],
  { source, fields }: { readonly source: string; readonly fields: readonly string[] },
): PipelineDocument[] {
  const when = equals('source', source);
  const isMeant = ({ when: condition, steps }: PipelineDocument): boolean =>
    condition === when && steps.length === 1 && 'remove' in (steps[0] ?? {});
  const known = pipelines.find(isMeant);
  const before = known ? removedBy(known) : [];
  const steps = [{ remove: { fields: [...before, ...fields.filter((field) => !before.includes(field))] } }];
  if (known) return pipelines.map((one) => (one === known ? { ...one, steps } : one));
  return [...pipelines, { id: freeId(pipelines, source), title: `Unused fields of ${source}`, when, steps }];
}

function removedBy({ steps }: PipelineDocument): readonly string[] {
  const { remove } = (steps[0] ?? {}) as { readonly remove?: { readonly fields?: readonly string[] } };
  return remove?.fields ?? [];
}

/** The id of a new pipeline for a source. */
function freeId(pipelines: readonly PipelineDocument[], source: string): string {
  const wanted = `${source.slice(0, 40)}-unused-fields`;
  const isFree = (id: string): boolean => !pipelines.some((pipeline) => pipeline.id === id);
  const ids = Array.from({ length: pipelines.length + 1 }, (_, i) => (i === 0 ? wanted : `${wanted}-${i + 1}`));
  return ids.find(isFree) ?? wanted;
}
