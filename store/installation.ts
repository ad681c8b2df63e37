import { eq } from 'drizzle-orm';
import type { Database } from './database.ts';
import { installation } from './schema.ts';

/** What the installation knows under a name; `make` gives it where there is nothing yet, and the first to do so counts. */
export async function installationValue(database: Database, name: string, make: () => string): Promise<string> {
  const read = async (): Promise<string | undefined> => {
    const [row] = await database.db.select().from(installation).where(eq(installation.name, name));
    return row?.value;
  };
  const known = await read();
  if (known !== undefined) return known;
  const value = make();
  await database.db.insert(installation).values({ name, value }).onDuplicateKeyUpdate({ set: { name } });
  return (await read()) ?? value;
}
