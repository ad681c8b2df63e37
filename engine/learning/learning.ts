import { guardLease, type Lease } from '#store/cluster/leases.ts';
import type { Database } from '#store/database.ts';
import { cutDeltas, listDeltas, markSaved, readDeltas } from '#store/sources/health-deltas.ts';
import type { Learner } from './learner.ts';

/** Deltas are read in pieces of so many rows. */
const rowsPerRead = 100;
/** Without listening for so long (milliseconds), some deltas may have been forgotten already. */
const longestPause = 40_000;
/** Ids that are remembered as heard; they are needed for a minute or two. */
const mostHeard = 200_000;

interface OwnDelta {
  readonly id: number;
  readonly kind: string;
  readonly data: Uint8Array;
  readonly at: number;
}

/**
 * Has all engines learn from the deltas of each of them, once. An engine learns from its own groups when they are
 * committed, and reads from the store what others committed; one of them saves what was learnt, in the transaction that
 * marks as saved what it was learnt from, so that nothing counts twice after a crash.
 */
export class Learning {
  private readonly heard = new Set<number>();
  /** Heard, and not saved yet. */
  private notSaved = new Set<number>();
  private lastHeard = 0;
  /** The token of the lease under which everything was read anew. */
  private token = 0;
  /** What this engine's groups reported while everything was read anew. */
  private waiting: OwnDelta[] | undefined;

  constructor(
    private readonly database: Database,
    private readonly engine: string,
    private readonly learners: readonly Learner[],
  ) {}

  /** Learns from a group that this engine has committed. */
  committed(id: number, kind: string, data: Uint8Array, at: number): void {
    if (this.waiting) this.waiting.push({ id, kind, data, at });
    else this.learn(id, kind, data, at);
  }

  /** Reads anew what was saved, and the deltas since. */
  async load(): Promise<void> {
    this.waiting ??= [];
    const now = Date.now();
    try {
      await this.database.db.transaction(
        async (tx) => {
          for (const learner of this.learners) await learner.load(tx);
          this.heard.clear();
          this.notSaved = new Set();
          const saved = new Set(await listDeltas(tx, this.engine));
          const ids = await listDeltas(tx, this.engine, true);
          for (let i = 0; i < ids.length; i += rowsPerRead)
            for (const { id, kind, data, at } of await readDeltas(tx, ids.slice(i, i + rowsPerRead)))
              this.learn(id, kind, data, at);
          for (const id of saved) this.heard.add(id);
        },
        // All is read as it was at one moment.
        { isolationLevel: 'repeatable read', withConsistentSnapshot: true },
      );
      for (const learner of this.learners) learner.loaded?.();
      this.lastHeard = now;
    } finally {
      const waiting = this.waiting;
      this.waiting = undefined;
      for (const { id, kind, data, at } of waiting) this.learn(id, kind, data, at);
    }
  }

  /** Learns what other engines' groups reported, where there is anything. */
  async listen(isThere = true): Promise<void> {
    const now = Date.now();
    if (now - this.lastHeard > longestPause) return await this.load();
    if (!isThere) {
      this.lastHeard = now;
      return;
    }
    const fresh = (await listDeltas(this.database.db, this.engine)).filter((id) => !this.heard.has(id));
    for (let i = 0; i < fresh.length; i += rowsPerRead)
      for (const { id, kind, data, at } of await readDeltas(this.database.db, fresh.slice(i, i + rowsPerRead)))
        this.learn(id, kind, data, at);
    this.lastHeard = now;
  }

  /** Saves what was learnt, as the holder of the lease; a new holder first reads anew what the one before it saved. */
  async save(lease: Lease): Promise<void> {
    if (lease.token !== this.token) {
      await this.load();
      this.token = lease.token;
    }
    const ids = [...this.notSaved];
    const undos: (() => void)[] = [];
    this.notSaved = new Set();
    try {
      await this.database.db.transaction(async (tx) => {
        await guardLease(tx, lease);
        for (const learner of this.learners) undos.push(await learner.save(tx));
        await markSaved(tx, ids, Date.now());
      });
    } catch (error) {
      for (const undo of undos) undo();
      for (const id of ids) this.notSaved.add(id);
      throw error;
    }
    await cutDeltas(this.database, Date.now());
  }

  /** Another engine saves. */
  letOthersSave(): void {
    this.token = 0;
    this.notSaved = new Set();
    for (const learner of this.learners) learner.letOthersSave?.();
  }

  private learn(id: number, kind: string, data: Uint8Array, at: number): void {
    if (this.heard.has(id)) return;
    this.heard.add(id);
    this.notSaved.add(id);
    if (this.heard.size > mostHeard) for (const oldest of this.heard) if (this.heard.delete(oldest)) break;
    this.learners.find((learner) => learner.kind === kind)?.learn(data, at);
  }
}
