import { compileCondition } from '../conditions/condition.ts';
import { labelsBatch } from '../events/labels-batch.ts';

/** What of a source its fleets are known by. */
export interface SourceWithLabels {
  readonly name: string;
  readonly kind: string;
  readonly owner: string;
  readonly labels: Readonly<Record<string, string>>;
}

/** A named group of sources, by a condition over their labels. */
export interface Fleet {
  readonly name: string;
  readonly condition: string;
}

/** The labels of a source, its owner and kind among them. */
export function labelsOf(source: SourceWithLabels): Readonly<Record<string, string>> {
  return { ...(source.owner !== '' && { owner: source.owner }), kind: source.kind, ...source.labels };
}

/** The fleets that each source belongs to, by the fleets' conditions over labels. Wrong conditions take none. */
export function fleetsBySource(
  sources: readonly SourceWithLabels[],
  fleets: readonly Fleet[],
): Map<string, readonly string[]> {
  const conditions = fleets.flatMap(({ name, condition }) => {
    const compiled = compileCondition(condition);
    return compiled.ok ? [{ name, condition: compiled.condition }] : [];
  });
  const bySource = new Map<string, readonly string[]>();
  for (const source of sources) {
    const batch = labelsBatch(source.name, labelsOf(source));
    const members = conditions.filter(({ condition }) => condition.test(batch, { now: Date.now() })[0] === 1);
    if (members.length > 0)
      bySource.set(
        source.name,
        members.map(({ name }) => name),
      );
  }
  return bySource;
}
