import type { EventBatch } from '../../events/batch.ts';
import { textAt } from '../../events/text-table.ts';
import { readRecords } from '../../formats/read.ts';
import { splitLines } from '../../formats/records.ts';
import { KnownShapes } from '../known-shapes.ts';
import { ShapeFamilies } from '../shape-families.ts';
import { Shaper } from '../shaper.ts';

/** A batch of lines as they arrive. */
export function batchOf(lines: readonly string[], format: 'text' | 'json' = 'text'): EventBatch {
  const records = splitLines(new TextEncoder().encode(lines.join('\n')));
  return readRecords('test', records, format, { received: Date.UTC(2026, 10, 24), backfill: false }).batch;
}

/** What several threads learn of lines together: they propose, one decides, and all hear of it. */
export class Learners {
  readonly families = new ShapeFamilies();
  private readonly threads: readonly { readonly known: KnownShapes; readonly shaper: Shaper }[];

  constructor(threads: number) {
    this.threads = Array.from({ length: threads }, () => {
      const known = new KnownShapes();
      return { known, shaper: new Shaper(known) };
    });
  }

  /** The shapes that threads give to lines, a batch for each in turn; what is new is decided about after each round. */
  learn(lines: readonly string[], batchSize = 4_096): readonly string[] {
    const ids: string[] = [];
    for (let start = 0; start < lines.length; ) {
      for (const { shaper } of this.threads) {
        shaper.begin();
        const { shape } = shaper.shaped(batchOf(lines.slice(start, start + batchSize)));
        for (const code of shape?.codes ?? []) ids.push(shape ? textAt(shape.table, code) : '');
        start += batchSize;
        if (start >= lines.length) break;
      }
      for (const { shaper } of this.threads) for (const fresh of shaper.takeNew()) this.decide(fresh);
    }
    return ids;
  }

  /** The id under which a shape goes now, as a thread knows it. */
  current(id: string, thread = 0): string {
    return this.threads[thread]?.known.current(id) ?? id;
  }

  private decide(fresh: Parameters<ShapeFamilies['learn']>[0]): void {
    const { put, merged } = this.families.learn(fresh);
    for (const { known } of this.threads) known.learn([...put, ...merged]);
  }
}
