import { and, eq, inArray, sql } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { leases } from './schema.ts';

/** A lease as its holder has it. */
export interface Lease {
  readonly name: string;
  /** The engine that holds it. */
  readonly holder: string;
  /** Grows with each holder. */
  readonly token: number;
}

/** How long a lease holds without a sign of its holder's life, in milliseconds. */
export const leaseTime = 8_000;

/**
 * What an engine has seen of leases that others have. Whether one has run out it tells by its own clock alone: no sign of life
 * may have been seen for {@link leaseTime}. The nodes of a cluster have clocks of their own, which may differ by more than that.
 */
export class LeaseSightings {
  private readonly seen = new Map<string, { readonly sign: string; readonly since: number }>();

  /** `clock` gives milliseconds that only grow. */
  constructor(private readonly clock: () => number = () => performance.now()) {}

  /** Notes what the store says of a lease; whether it has said the same for so long that the holder must be gone. */
  isOver(name: string, token: number, beat: number): boolean {
    const sign = `${token} ${beat}`;
    const before = this.seen.get(name);
    if (before?.sign !== sign) this.seen.set(name, { sign, since: this.clock() });
    return before?.sign === sign && this.clock() - before.since > leaseTime;
  }
}

/** What was asked of the holder's lease does not hold any more: another engine has it. */
export class LeaseLost extends Error {
  override readonly name = 'LeaseLost';

  constructor(readonly lease: string) {
    super(`Another engine has taken over: ${lease}.`);
  }
}

/**
 * Takes those of some leases that are free or ran out, and renews those that `holder` has. Returns all that it has now;
 * one of them is new where its token differs from the one known before. `sightings` are what it saw when it
 * asked before; without them nothing is known to have run out.
 */
export async function takeLeases(
  { db }: Database,
  names: readonly string[],
  holder: string,
  sightings: LeaseSightings = new LeaseSightings(),
): Promise<readonly Lease[]> {
  if (names.length === 0) return [];
  const rows = () =>
    db
      .select()
      .from(leases)
      .where(inArray(leases.name, [...names]));
  await db
    .update(leases)
    .set({ beat: sql`${leases.beat} + 1` })
    .where(and(eq(leases.holder, holder), inArray(leases.name, [...names])));
  const known = await rows();
  const missing = names
    .filter((name) => !known.some((row) => row.name === name))
    .map((name) => ({ name, holder: '', token: 0, beat: 0 }));
  if (missing.length > 0) await db.insert(leases).ignore().values(missing);
  const free = known.filter(({ name, holder: other, token, beat }) => {
    return other !== holder && (other === '' || sightings.isOver(name, token, beat));
  });
  for (const { name, token, beat } of [...missing, ...free])
    await db
      .update(leases)
      .set({ holder, token: token + 1, beat: beat + 1 })
      .where(and(eq(leases.name, name), eq(leases.token, token), eq(leases.beat, beat)));
  const isDone = missing.length + free.length === 0;
  const now = isDone ? known : await rows();
  return now.filter((row) => row.holder === holder).map(({ name, token }) => ({ name, holder, token }));
}

/** Gives leases up, so that another engine need not wait until they run out. */
export async function giveUpLeases({ db }: Database, holder: string, names?: readonly string[]): Promise<void> {
  if (names?.length === 0) return;
  const some = names && inArray(leases.name, [...names]);
  await db
    .update(leases)
    .set({ holder: '' })
    .where(and(eq(leases.holder, holder), some));
}

/** Takes a lease away from whoever has it: what is under way by it cannot be written any more. */
export async function revokeLease(tx: Queryable, name: string): Promise<void> {
  await tx
    .update(leases)
    .set({ holder: '', token: sql`${leases.token} + 1` })
    .where(eq(leases.name, name));
}

/**
 * Inside a transaction: makes sure that a lease still has this token and keeps it from changing hands until the end of the
 * transaction. Throws {@link LeaseLost}. One that ran out unnoticed but was not taken by anyone still counts. The row is
 * changed, not only locked: the other nodes of a cluster hear of what is written alone.
 */
export async function guardLease(tx: Queryable, { name, token }: Pick<Lease, 'name' | 'token'>): Promise<void> {
  const [{ affectedRows }] = await tx
    .update(leases)
    .set({ beat: sql`${leases.beat} + 1` })
    .where(and(eq(leases.name, name), eq(leases.token, token)));
  if (affectedRows === 0) throw new LeaseLost(name);
}
