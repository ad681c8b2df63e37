import type { Condition } from '../conditions/condition.ts';
import type { ConditionContext } from '../conditions/evaluate.ts';
import { eachMarked } from '../conditions/marked.ts';
import type { EventBatch } from '../events/batch.ts';
import { severityRange } from '../events/severity.ts';
import { textAt } from '../events/text-table.ts';
import type { RoutedBatch } from '../routing/route.ts';
import { addVolume, newVolume, type Volume } from '../routing/volume.ts';

/** What of a kind of line is kept, and who reads it, as taped events tell. Plain data; weights count. */
export interface ShapeUse {
  /** Everything that arrives of it. */
  readonly arrived: Volume;
  /** Events of it that warn of something or are worse. */
  serious: number;
  /** What is kept of it: by source, then by tier. */
  readonly kept: Map<string, Map<string, Volume>>;
  /** By reader, how many of its events it is about. */
  readonly read: number[];
}

/** By the id of the shape. */
export type ShapeUses = Map<string, ShapeUse>;

const [warns = 13] = severityRange('warn') ?? [];

/** Adds the events of a batch, to which `readers` are asked; those without a shape are passed over. */
export function addShapeUses(
  uses: ShapeUses,
  { arrived, fates, fateOf }: RoutedBatch,
  readers: readonly Condition[],
  context: ConditionContext,
): void {
  const { shape, rows, weight, size, severity, source } = arrived;
  if (!shape || rows === 0) return;
  const byCode = usesByCode(uses, shape, readers.length);
  for (let row = 0; row < rows; row++) {
    const use = byCode[shape.codes[row] as number];
    if (!use) continue;
    const events = weight[row] as number;
    const bytes = events * (size[row] as number);
    count(use.arrived, events, bytes);
    if ((severity[row] as number) >= warns) use.serious += events;
    const fate = fates[fateOf[row] as number];
    if (fate?.outcome === 'kept') count(keptIn(use, source, fate.tier), events, bytes);
  }
  readers.forEach((reader, place) => {
    eachMarked(reader.test(arrived, context), (row) => {
      const use = byCode[shape.codes[row] as number];
      if (use) use.read[place] = (use.read[place] as number) + (weight[row] as number);
    });
  });
}

function count(volume: Volume, events: number, bytes: number): void {
  volume.events += events;
  volume.bytes += bytes;
}

/** The uses of the shapes of a batch by their codes. */
function usesByCode(
  uses: ShapeUses,
  { table, codes }: NonNullable<EventBatch['shape']>,
  readers: number,
): readonly (ShapeUse | undefined)[] {
  const byCode: (ShapeUse | undefined)[] = [];
  for (const code of new Set(codes)) if (code >= 0) byCode[code] = entryOf(uses, textAt(table, code), readers);
  return byCode;
}

function entryOf(uses: ShapeUses, shape: string, readers: number): ShapeUse {
  let use = uses.get(shape);
  if (!use)
    uses.set(
      shape,
      (use = { arrived: newVolume(), serious: 0, kept: new Map(), read: new Array<number>(readers).fill(0) }),
    );
  return use;
}

function keptIn({ kept }: ShapeUse, source: string, tier: string): Volume {
  let tiers = kept.get(source);
  if (!tiers) kept.set(source, (tiers = new Map()));
  let volume = tiers.get(tier);
  if (!volume) tiers.set(tier, (volume = newVolume()));
  return volume;
}

/** Adds all of `other`, whose readers are the same; `currentShape` tells the id under which a shape goes now. */
export function mergeShapeUses(uses: ShapeUses, other: ShapeUses, currentShape: (id: string) => string): void {
  for (const [shape, { arrived, serious, kept, read }] of other) {
    const use = entryOf(uses, currentShape(shape), read.length);
    addVolume(use.arrived, arrived);
    use.serious += serious;
    for (const [source, tiers] of kept)
      for (const [tier, volume] of tiers) addVolume(keptIn(use, source, tier), volume);
    read.forEach((events, reader) => {
      use.read[reader] = (use.read[reader] ?? 0) + events;
    });
  }
}
