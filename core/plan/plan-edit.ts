import { equals } from '../conditions/write.ts';
import { stepParts } from '../steps/step-document.ts';
import type { PlanDocument } from './document.ts';
import { freeId } from './free-id.ts';
import { longest } from './parts/limits.ts';
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

/** Pipelines with one that takes fields of a source out after all others: events pass all pipelines that they match, in order. */
function withoutFields(
  pipelines: readonly PipelineDocument[],
  { source, fields }: { readonly source: string; readonly fields: readonly string[] },
): PipelineDocument[] {
  const when = equals('source', source);
  const known = pipelines.find((pipeline) => pipeline.when === when && removesOnly(pipeline));
  const before = known ? removedBy(known) : [];
  const steps = [{ remove: { fields: [...before, ...fields.filter((field) => !before.includes(field))] } }];
  if (known) return pipelines.map((one) => (one === known ? { ...one, steps } : one));
  const title = `Unused fields of ${source}`;
  const id = freeId(
    title,
    pipelines.map((pipeline) => pipeline.id),
  );
  return [...pipelines, { id, title: title.slice(0, longest.title), when, steps }];
}

/** Whether a pipeline does nothing but take the same fields out of all events that enter it. */
function removesOnly({ steps: [step = {}, ...others] }: PipelineDocument): boolean {
  return others.length === 0 && Object.keys(step).join() === 'remove';
}

function removedBy({ steps: [step = {}] }: PipelineDocument): readonly string[] {
  const { fields } = stepParts(step).options;
  return Array.isArray(fields) ? fields.map(String) : [];
}
