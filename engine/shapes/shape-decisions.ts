import { ShapeFamilies } from '#core/shapes/shape-families.ts';
import { nextShapesVersion } from '#store/cluster/counters.ts';
import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import {
  cutMergedShapes,
  listNewShapes,
  removeNewShapes,
  type ShapeDecision,
  shapesSince,
  writeDecisions,
} from '#store/events/shapes.ts';

/** Most new shapes that are decided about in one transaction. */
const mostAtOnce = 2_000;

/** Most ids that are remembered after they were merged into others. */
const mostMerged = 100_000;

/**
 * Decides about shapes that were met: which stand for themselves, which belong to another one, and which words of theirs
 * are holes. Only the holder of the lease does it, so that all engines have the same.
 */
export class ShapeDecisions {
  private families = new ShapeFamilies();
  /** Of each shape, what is known of its first line. */
  private facts = new Map<string, { readonly sample: string; readonly source: string; readonly at: number }>();
  private readonly merged = new Set<string>();
  /** The token of the lease under which everything was read. */
  private token = 0;

  constructor(private readonly database: Database) {}

  /** Decides about all that wait. Returns whether anything was decided. */
  async round(lease: Lease): Promise<boolean> {
    if (lease.token !== this.token) await this.load(lease.token);
    let decidedAny = false;
    for (let more = true; more; ) {
      const { decided, read } = await this.decideSome(lease).catch((error: unknown) => {
        // What was learnt and could not be written is read anew.
        this.token = 0;
        throw error;
      });
      decidedAny ||= decided > 0;
      more = read === mostAtOnce;
    }
    if (decidedAny) await cutMergedShapes(this.database, mostMerged);
    return decidedAny;
  }

  private async load(token: number): Promise<void> {
    const known = await shapesSince(this.database.db, 0);
    const standing = known.filter(({ into }) => into === undefined);
    this.families = new ShapeFamilies([...known].sort((a, b) => a.firstSeen - b.firstSeen));
    this.facts = new Map(standing.map(({ id, sample, source, firstSeen }) => [id, { sample, source, at: firstSeen }]));
    this.merged.clear();
    for (const { id, into } of known) if (into !== undefined) this.merged.add(id);
    this.token = token;
  }

  private async decideSome(lease: Lease): Promise<{ readonly decided: number; readonly read: number }> {
    return await this.database.db.transaction(async (tx) => {
      await guardLease(tx, lease);
      const fresh = await listNewShapes(tx, mostAtOnce);
      if (fresh.length === 0) return { decided: 0, read: 0 };
      const decisions = new Map<string, ShapeDecision>();
      for (const { id, skeleton, sample, source, at } of fresh) {
        if (this.merged.has(id) || this.facts.has(id)) continue;
        const { put, merged } = this.families.learn({ id, skeleton });
        if (put.length === 0 && merged.length === 0) continue;
        this.facts.set(id, { sample, source, at });
        for (const shape of put) decisions.set(shape.id, { ...shape, ...this.factsOf(shape.id) });
        for (const part of merged) {
          decisions.set(part.id, { ...part, ...this.factsOf(part.id) });
          this.merged.add(part.id);
          this.facts.delete(part.id);
        }
      }
      if (decisions.size > 0) await writeDecisions(tx, [...decisions.values()], await nextShapesVersion(tx));
      await removeNewShapes(
        tx,
        fresh.map(({ number }) => number),
      );
      return { decided: decisions.size, read: fresh.length };
    });
  }

  private factsOf(id: string): { readonly sample: string; readonly source: string; readonly at: number } {
    return this.facts.get(id) ?? { sample: '', source: '', at: 0 };
  }
}
