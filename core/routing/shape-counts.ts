import type { EventBatch } from '../events/batch.ts';
import { severityClass, severityClasses } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import type { Fate } from './fate.ts';
import { ledgerStart, type ShapeVolume } from './ledger.ts';
import type { RoutedBatch } from './route.ts';

/** The sums of one stretch of time, by shape, fate and severity class: an entry for events and one for bytes each. */
interface Stretch {
  readonly start: number;
  readonly sums: Float64Array;
}

/** Most sums of a stretch that stand side by side; batches with more shapes and fates are rare and counted in parts. */
const mostSums = 1 << 18;

/**
 * What arrived of each shape and what became of it; nothing where shapes were not looked at. Weights are those that the
 * events arrived with, so that the sums agree with the volume ledger.
 */
export function countShapes(
  { arrived, fates, fateOf }: Pick<RoutedBatch, 'arrived' | 'fates' | 'fateOf'>,
  now: number,
): readonly ShapeVolume[] {
  const { shape, rows, received, weight, size, severity, source } = arrived;
  if (!shape || rows === 0) return [];
  // Most fates that a plan knows do not occur in a batch.
  const occurring = [...new Set(fateOf)];
  const numberOfFate = new Int32Array(fates.length);
  occurring.forEach((fate, number) => {
    numberOfFate[fate] = number;
  });
  const fatesHere = occurring.map((fate) => fates[fate] as Fate);
  const places = shape.table.count * fatesHere.length * severityClasses;
  const stretches = new Map<number, Stretch>();
  const counted: ShapeVolume[] = [];
  const tell = (): void => {
    for (const stretch of stretches.values()) counted.push(...volumesOf(stretch, { source, fates: fatesHere, shape }));
    stretches.clear();
  };
  let current: Stretch | undefined;
  let until = 0;
  for (let row = 0; row < rows; row++) {
    const code = shape.codes[row] as number;
    if (code < 0) continue;
    const at = received[row] as number;
    if (!current || at < current.start || at >= until) {
      const start = ledgerStart(at, now);
      if (stretches.size * places > mostSums) tell();
      current = stretches.get(start);
      if (!current) stretches.set(start, (current = { start, sums: new Float64Array(places * 2) }));
      // Stretches are minutes at least, so within one nothing has to be looked up.
      until = start + 60_000;
    }
    const { sums } = current;
    const fate = numberOfFate[fateOf[row] as number] as number;
    const place = ((code * fatesHere.length + fate) * severityClasses + severityClass(severity[row] as number)) * 2;
    const events = weight[row] as number;
    sums[place] = (sums[place] as number) + events;
    sums[place + 1] = (sums[place + 1] as number) + events * (size[row] as number);
  }
  tell();
  return counted;
}

function volumesOf(
  { start, sums }: Stretch,
  {
    source,
    fates,
    shape: { table },
  }: {
    readonly source: string;
    readonly fates: readonly Fate[];
    readonly shape: NonNullable<RoutedBatch['arrived']['shape']>;
  },
): readonly ShapeVolume[] {
  const volumes: ShapeVolume[] = [];
  for (let place = 0; place < sums.length; place += 2) {
    const events = sums[place] as number;
    if (events === 0) continue;
    const severity = (place / 2) % severityClasses;
    const shapeAndFate = Math.floor(place / 2 / severityClasses);
    const { tier, outcome } = fates[shapeAndFate % fates.length] as Fate;
    const shape = textAt(table, Math.floor(shapeAndFate / fates.length));
    volumes.push({ start, shape, source, tier, outcome, severity, events, bytes: sums[place + 1] as number });
  }
  return volumes;
}

/** What was counted of rejects when they came, taken back: with what becomes of them now each counts once. */
export function takeBackShapes(rejects: EventBatch, now: number): readonly ShapeVolume[] {
  const fates: readonly Fate[] = [{ outcome: 'rejected', tier: '', rule: '', storedIn: undefined }];
  const counted = countShapes({ arrived: rejects, fates, fateOf: new Uint16Array(rejects.rows) }, now);
  return counted.map((volume) => ({ ...volume, events: -volume.events, bytes: -volume.bytes }));
}

/** Adds up volumes that share everything but their figures. */
export function addedUp(volumes: Iterable<ShapeVolume>): readonly ShapeVolume[] {
  const sums = new Map<string, ShapeVolume>();
  for (const volume of volumes) {
    const { start, shape, source, tier, outcome, severity, events, bytes } = volume;
    const key = `${start}|${shape}|${source}|${tier}|${outcome}|${severity}`;
    const known = sums.get(key);
    sums.set(key, known ? { ...known, events: known.events + events, bytes: known.bytes + bytes } : volume);
  }
  return [...sums.values()];
}
