import { eq } from 'drizzle-orm';
import type { Database, Queryable } from '../database.ts';
import { installation } from './schema.ts';

/** What the installation knows under a name; `make` gives it where there is nothing yet, and the first to do so counts. */
export async function installationValue(database: Database, name: string, make: () => string): Promise<string> {
  const known = await readInstallation(database, name);
  if (known !== undefined) return known;
  const value = make();
  await database.db.insert(installation).values({ name, value }).onDuplicateKeyUpdate({ set: { name } });
  return (await readInstallation(database, name)) ?? value;
}

/** What the installation knows under a name; undefined for nothing. */
export async function readInstallation({ db }: Database, name: string): Promise<string | undefined> {
  const [row] = await db.select().from(installation).where(eq(installation.name, name));
  return row?.value;
}

/** Has the installation know something under a name, in place of what it knew. */
export async function writeInstallation(tx: Queryable, name: string, value: string): Promise<void> {
  await tx.insert(installation).values({ name, value }).onDuplicateKeyUpdate({ set: { value } });
}
