import { and, asc, eq, gte, lt, sql } from 'drizzle-orm';
import { fitted } from '#core/events/fitted.ts';
import { type Absences, type KnownEmitter, longestEmitterName } from '#core/health/emitters.ts';
import type { Database, Queryable } from '../database.ts';
import { emitterVolume } from '../volume/schema.ts';
import { emitters } from './schema.ts';

export type StoredEmitter = typeof emitters.$inferSelect;

/** Rows that go into one statement. */
const rowsPerStatement = 200;

/** All emitters. */
export async function listEmitters(tx: Queryable): Promise<readonly StoredEmitter[]> {
  return await tx.select().from(emitters).orderBy(asc(emitters.source), asc(emitters.name));
}

/** Saves what was learnt of emitters; what people said of them stays. */
export async function saveEmitters(tx: Queryable, rows: readonly KnownEmitter[]): Promise<void> {
  for (let i = 0; i < rows.length; i += rowsPerStatement) {
    await tx
      .insert(emitters)
      .values(
        rows.slice(i, i + rowsPerStatement).map((row) => ({ ...row, name: fitted(row.name, longestEmitterName) })),
      )
      .onDuplicateKeyUpdate({
        set: {
          firstSeen: sql`least(${emitters.firstSeen}, values(${emitters.firstSeen}))`,
          lastSeen: sql`greatest(${emitters.lastSeen}, values(${emitters.lastSeen}))`,
          facts: sql`values(${emitters.facts})`,
        },
      });
  }
}

/** Sets what people say of an emitter: that it will not come back, or when it is expected (milliseconds). */
export async function planEmitter(
  tx: Queryable,
  of: { readonly source: string; readonly name: string },
  plans: Absences,
): Promise<void> {
  await tx
    .update(emitters)
    .set(plans)
    .where(and(eq(emitters.source, of.source), eq(emitters.name, of.name)));
}

/** Adds to what emitters sent, by the hour. */
export async function addEmitterVolume(
  tx: Queryable,
  rows: readonly (typeof emitterVolume.$inferInsert)[],
): Promise<void> {
  for (let i = 0; i < rows.length; i += 1_000) {
    await tx
      .insert(emitterVolume)
      .values(rows.slice(i, i + 1_000).map((row) => ({ ...row, name: fitted(row.name, longestEmitterName) })))
      .onDuplicateKeyUpdate({
        set: {
          events: sql`${emitterVolume.events} + values(${emitterVolume.events})`,
          bytes: sql`${emitterVolume.bytes} + values(${emitterVolume.bytes})`,
        },
      });
  }
}

/** What emitters sent in a window (milliseconds, by the hour), largest first; of one source when given. */
export async function sumEmitterVolume(
  database: Database,
  window: { readonly from: number; readonly to: number },
  source?: string,
): Promise<
  readonly { readonly source: string; readonly name: string; readonly events: number; readonly bytes: number }[]
> {
  return await database.db
    .select({
      source: emitterVolume.source,
      name: emitterVolume.name,
      events: sql<number>`sum(${emitterVolume.events})`.mapWith(Number),
      bytes: sql<number>`sum(${emitterVolume.bytes})`.mapWith(Number),
    })
    .from(emitterVolume)
    .where(
      and(
        gte(emitterVolume.start, window.from),
        lt(emitterVolume.start, window.to),
        source === undefined ? undefined : eq(emitterVolume.source, source),
      ),
    )
    .groupBy(emitterVolume.source, emitterVolume.name)
    .orderBy(sql`sum(${emitterVolume.bytes}) desc`)
    .limit(5_000);
}

/** Which emitters of a source were heard in a window (milliseconds), by the hour; an empty name is the source as a whole. */
export async function heardEmitters(
  database: Database,
  source: string,
  window: { readonly from: number; readonly to: number },
): Promise<ReadonlyMap<number, ReadonlySet<string>>> {
  const rows = await database.db
    .select({ start: emitterVolume.start, name: emitterVolume.name })
    .from(emitterVolume)
    .where(
      and(eq(emitterVolume.source, source), gte(emitterVolume.start, window.from), lt(emitterVolume.start, window.to)),
    );
  const hours = new Map<number, Set<string>>();
  for (const { start, name } of rows) {
    const names = hours.get(start);
    if (names) names.add(name);
    else hours.set(start, new Set([name]));
  }
  return hours;
}

/** Forgets volumes from before `before` (milliseconds). */
export async function cutEmitterVolume(database: Database, before: number): Promise<void> {
  await database.db.delete(emitterVolume).where(lt(emitterVolume.start, before));
}
