import { compileCondition } from '#core/conditions/condition.ts';
import type { Fleet } from '#store/fleets.ts';
import type { Source } from '#store/sources.ts';
import { labelsBatch } from './labels-batch.ts';

/** The labels of a source, its owner and kind among them. */
export function labelsOf(source: Source): Readonly<Record<string, string>> {
  return { ...(source.owner !== '' && { owner: source.owner }), kind: source.kind, ...source.labels };
}

/** The fleets that each source belongs to, by the fleets' conditions over labels. Wrong conditions take none. */
export function fleetsBySource(sources: readonly Source[], fleets: readonly Fleet[]): Map<string, readonly string[]> {
  const conditions = fleets.flatMap(({ name, condition }) => {
    const compiled = compileCondition(condition);
    return compiled.ok ? [{ name, condition: compiled.condition }] : [];
  });
  const bySource = new Map<string, readonly string[]>();
  for (const source of sources) {
    const batch = labelsBatch(source.name, labelsOf(source));
    const own = conditions.filter(({ condition }) => condition.test(batch, { now: Date.now() })[0] === 1);
    if (own.length > 0)
      bySource.set(
        source.name,
        own.map(({ name }) => name),
      );
  }
  return bySource;
}
