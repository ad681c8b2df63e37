import type { EventBatch } from '../events/batch.ts';
import { textColumn } from '../events/columns.ts';
import { labelsBatch } from '../events/labels-batch.ts';
import { severityOfClass } from '../events/severity.ts';
import { holdingTier } from '../routing/holding-tier.ts';
import type { ShapeVolume } from '../routing/ledger.ts';
import { seededRandom } from '../routing/route.ts';
import { grouped } from '../tables/grouped.ts';
import type { ComparedPart } from './compared-events.ts';
import { jackknifeGroups } from './jackknife.ts';
import type { Measure } from './measure.ts';
import type { ComparedPeriods, Period } from './periods.ts';

/** A sum of the ledger of shapes. */
export interface LedgerVolume extends Omit<ShapeVolume, 'outcome'> {
  readonly outcome: string;
}

/** Volume as events to compare, and the measure of it. */
export interface LedgerParts {
  readonly parts: readonly ComparedPart[];
  readonly measure: Measure;
}

/**
 * Encodes the volume of the compared periods (`since` first) as rows that stand for many events. Each kind of line has ten rows, among
 * which its events are dealt as if at random, so that the jackknife finds the same chance in them as in single events. The measure is
 * a number of events or bytes, or a share.
 */
export function ledgerParts(
  periods: readonly (readonly LedgerVolume[])[],
  { since, before }: ComparedPeriods,
  { measure, now }: { readonly measure: Measure; readonly now: number },
): LedgerParts {
  const amounts = new Map<EventBatch, Float64Array>();
  const random = seededRandom(periods.length);
  const parts = periods.flatMap((volumes, number) => {
    const period = number === 0 ? since : (before[number - 1] as Period);
    const standsFor = (since.to - since.from) / (period.to - period.from);
    return [...grouped(volumes, (volume) => JSON.stringify([volume.source, holdingTier(volume)]))].map(
      ([key, list]): ComparedPart => {
        const [source, tier] = JSON.parse(key) as [string, string];
        const { batch, bytes } = kindsOf(source, list, random);
        amounts.set(batch, measure.volume === 'bytes' ? bytes : Float64Array.from(batch.weight));
        return { batch, period: number, standsFor, context: { tier, now } };
      },
    );
  });
  // A share follows from the events alone.
  const isShare = measure.shareOf !== undefined;
  const amountsOfBatch: Measure['amountsOf'] = (batch) => [
    { to: 0, values: amounts.get(batch) ?? new Float64Array(batch.rows) },
  ];
  return { parts, measure: isShare ? measure : { ...measure, amountsOf: amountsOfBatch } };
}

/** Ten rows for each kind of line, and the bytes of each row. */
function kindsOf(
  source: string,
  volumes: readonly LedgerVolume[],
  random: () => number,
): { readonly batch: EventBatch; readonly bytes: Float64Array } {
  const kinds = [...grouped(volumes, ({ shape, severity }) => `${severity} ${shape}`).values()];
  const rows = kinds.length * jackknifeGroups;
  const weight = new Float32Array(rows);
  const bytes = new Float64Array(rows);
  kinds.forEach((kind, number) => {
    const events = kind.reduce((sum, volume) => sum + volume.events, 0);
    const size = events > 0 ? kind.reduce((sum, volume) => sum + volume.bytes, 0) / events : 0;
    dealt(events, random).forEach((share, group) => {
      weight[number * jackknifeGroups + group] = share;
      bytes[number * jackknifeGroups + group] = share * size;
    });
  });
  const kindOf = (row: number): LedgerVolume => kinds[Math.floor(row / jackknifeGroups)]?.[0] as LedgerVolume;
  const all = Array.from({ length: rows }, (_, row) => kindOf(row));
  const batch = {
    ...labelsBatch(source, {}),
    ...{ rows, weight, unweighted: false },
    emitter: textColumn(all.map(() => undefined)),
    severity: Uint8Array.from(all, ({ severity }) => severityOfClass(severity)),
    shape: textColumn(all.map(({ shape }) => (shape === '' ? undefined : shape))),
  };
  return { batch, bytes };
}

/** Events dealt to groups: each is as far from its even share as chance would have it, up or down by the draw. */
function dealt(events: number, random: () => number): readonly number[] {
  const places = shuffled(random);
  const share = events / jackknifeGroups;
  const deviation = Math.sqrt(share * (1 - 1 / jackknifeGroups));
  // Few events are dealt one by one.
  const few = Math.min(jackknifeGroups, Math.max(1, Math.round(events)));
  return places.map((place) => {
    if (deviation > share) return place < few ? events / few : 0;
    return place < jackknifeGroups / 2 ? share + deviation : share - deviation;
  });
}

function shuffled(random: () => number): readonly number[] {
  const keys = Array.from({ length: jackknifeGroups }, (_, place) => ({ place, key: random() }));
  return keys.sort((a, b) => a.key - b.key).map(({ place }) => place);
}
