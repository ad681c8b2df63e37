import type { PlanDocument } from '#core/plan/document.ts';
import { mayTake } from '#core/plan/may-enter.ts';
import { mergeShadows, type Shadows } from '#core/rehearsal/shadows.ts';
import type { Database } from '#store/database.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape, rehearsedRecords } from './over-tape.ts';

/** Most taped records looked at: few enough for an answer while someone drags a tier. */
const fewRecords = 12_000;

interface Setting {
  readonly database: Database;
  readonly pools: Pick<Pools, 'read' | 'readLanes'>;
  readonly tables: Readonly<Record<string, number>>;
  readonly fleets: ReadonlyMap<string, readonly string[]>;
  readonly signal: AbortSignal;
}

/** How closely the tape is looked at: how many of its records, of which sources. */
interface Look {
  readonly mostRecords: number;
  readonly isWanted: (source: string) => boolean;
}

/**
 * The shadows of some plans over the tape of the last day; amounts are a day's. A tier that matches none of the few records that
 * are looked at is looked at again as closely as in a rehearsal, so that it is not said to match nothing where it is only rare.
 */
export async function runShadows(setting: Setting, plans: readonly PlanDocument[]): Promise<readonly Shadows[]> {
  const found = await shadowsOver(setting, plans, { mostRecords: fewRecords, isWanted: () => true });
  const rare = plans.map(({ tiers }, i) => tiers.filter(({ id }) => !found[i]?.get(id)?.matched.events));
  const conditions = new Set(rare.flat().map(({ when }) => when));
  if (conditions.size === 0) return found;
  const isWanted = (source: string): boolean => [...conditions].some((when) => mayTake(when ?? '', source));
  const closer = await shadowsOver(setting, plans, { mostRecords: rehearsedRecords, isWanted });
  return found.map((shadows, i) => {
    const again = (rare[i] ?? []).flatMap(({ id }) => {
      const shadow = closer[i]?.get(id);
      return shadow ? [[id, shadow] as const] : [];
    });
    return new Map([...shadows, ...again]);
  });
}

async function shadowsOver(
  { database, pools, signal, ...rest }: Setting,
  plans: readonly PlanDocument[],
  look: Look,
): Promise<readonly Shadows[]> {
  const now = Date.now();
  const merged = plans.map((): Shadows => new Map());
  await overTape(
    { database, pools, now, ...look, signal },
    (lane, part) => pools.read(lane, { kind: 'shadows', plans, ...part, ...rest, now }),
    (part) => {
      part.forEach((shadows, i) => {
        mergeShadows(merged[i] as Shadows, shadows);
      });
    },
  );
  return merged;
}
