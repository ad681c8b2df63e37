import { setTimeout as pause } from 'node:timers/promises';
import { countChange } from '#store/cluster/counters.ts';
import { revokeLease } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { exchangeSegments, listSegments, type StoredSegment } from '#store/events/segments.ts';
import { removeShapeVolume } from '#store/events/shapes.ts';
import { forgetObjects, forgetPositions } from '#store/sources/positions.ts';
import { findRewind, type Rewind, saveRewind, unfinishedRewinds } from '#store/sources/rewinds.ts';
import type { Source } from '#store/sources/sources.ts';
import { removeCapUse } from '#store/volume/cap-days.ts';
import { removeLedger } from '#store/volume/ledger.ts';
import { type Leases, leaseNames } from '../cluster/leases.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';

/** Between two looks at what another engine does, in milliseconds. */
const askAgainAfter = 250;
/** How long deliveries that are under way when a source is paused may take, in milliseconds. */
const settleTime = 1_500;

interface Setting {
  readonly leases: Leases;
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: SourceDirectory;
}

/**
 * Sources of files or objects that are read again: nothing more is read, what is stored from a time on is taken out, how
 * far it was read is forgotten, and it goes on from the start. Each step is noted in the store, so that one that was
 * interrupted is taken up where it stood; what a source is set to is left alone.
 */
export class Rewinds {
  /** Those that this engine is busy with, by source. */
  private readonly running = new Map<string, Promise<number>>();

  constructor(private readonly setting: Setting) {}

  /** Reads a source again from a time on (milliseconds; 0: from the start). Returns how many stored events were taken out. */
  async begin(source: Source, from: number): Promise<{ readonly removed: number }> {
    const { database, directory, leases } = this.setting;
    await this.running.get(source.name)?.catch(() => {});
    const requestedAt = Math.max(Date.now(), directory.rewoundAt(source.name) + 1);
    await database.db.transaction(async (tx) => {
      await saveRewind(tx, { source: source.name, from, requestedAt, step: 'waiting', removed: 0 });
      await countChange(tx);
    });
    await directory.refresh();
    if (leases.get(leaseNames.rewinds)) return { removed: await this.run(source.name) };
    return { removed: await this.doneElsewhere(source.name) };
  }

  /** Waits until the engine that has the lease is done. */
  private async doneElsewhere(source: string): Promise<number> {
    for (;;) {
      const rewind = await findRewind(this.setting.database, source);
      if (!rewind || rewind.step === 'done') break;
      await pause(askAgainAfter);
    }
    await this.setting.directory.refresh();
    return (await findRewind(this.setting.database, source))?.removed ?? 0;
  }

  /** Takes up those that were interrupted. */
  async resume(): Promise<void> {
    for (const { source } of await unfinishedRewinds(this.setting.database)) await this.run(source);
  }

  private run(source: string): Promise<number> {
    let work = this.running.get(source);
    if (!work) {
      work = this.finish(source).finally(() => this.running.delete(source));
      this.running.set(source, work);
    }
    return work;
  }

  private async finish(source: string): Promise<number> {
    const { database, directory } = this.setting;
    let rewind = await findRewind(database, source);
    if (!rewind) return 0;
    if (rewind.step === 'waiting') {
      await pause(settleTime);
      const cutting = { ...rewind, step: 'cutting' };
      rewind = cutting;
      await database.db.transaction(async (tx) => {
        // What a reader has under way now is not stored any more, whichever engine it is.
        await revokeLease(tx, leaseNames.reading(source));
        await saveRewind(tx, cutting);
      });
    }
    if (rewind.step === 'cutting') rewind = await this.cut(rewind);
    await directory.refresh();
    return rewind.removed;
  }

  /** Takes out what is stored, segment by segment, and at last forgets how far the source was read. */
  private async cut(rewind: Rewind): Promise<Rewind> {
    const { database, pools } = this.setting;
    const { source, from } = rewind;
    let { removed } = rewind;
    const cutOne = async ({ id, tier, events, revision, bytes, slot }: StoredSegment): Promise<void> => {
      const segment = { id, tier, source, events };
      const cut = await pools.background({ kind: 'cut', segment, slot, revision, bytes, before: from });
      const counted = removed + cut.removed;
      const done = await exchangeSegments(database, {
        ...{ old: [id], added: cut.segments, now: Date.now() },
        alongside: (tx) => saveRewind(tx, { ...rewind, removed: counted }),
      });
      if (done) removed = counted;
    };
    // Segments that were merged meanwhile are met again in the next pass.
    for (let left = await this.stored(rewind); left.length > 0; left = await this.stored(rewind))
      for (const segment of left) await cutOne(segment);
    const finished = { ...rewind, removed, step: 'done' };
    await database.db.transaction(async (tx) => {
      const since = Math.floor(from / 3_600_000) * 3_600_000;
      await removeCapUse(tx, source, since);
      await removeLedger(tx, source, since);
      await removeShapeVolume(tx, source, since);
      await forgetPositions(tx, source);
      await forgetObjects(tx, source);
      await saveRewind(tx, finished);
      await countChange(tx);
    });
    return finished;
  }

  private async stored({ source, from }: Rewind): Promise<readonly StoredSegment[]> {
    const all = await listSegments(this.setting.database, { from, to: Number.MAX_SAFE_INTEGER }, undefined);
    return all.filter((segment) => segment.source === source);
  }
}
