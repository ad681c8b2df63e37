import { eq } from 'drizzle-orm';
import { array, number, object, string, ValidationError } from 'yup';
import type { DemoState } from '#core/answers/demo.ts';
import { writeInstallation } from './cluster/installation.ts';
import { installation } from './cluster/schema.ts';
import type { Database, Queryable } from './database.ts';

/** The key of the demo data among the values of the installation. */
const name = 'demo';

/** The state of the demo data in this installation, and what it brought. */
export interface DemoRecord {
  readonly state: Exclude<DemoState, 'absent'>;
  /** The share of its past that is stored, from 0 to 1. */
  readonly share: number;
  /** The revision with which its plan came; 0 before that. */
  readonly revision: number;
  /** When its prices were saved (milliseconds); 0 where it brought none. */
  readonly pricesAt: number;
  /** The names of the fleets that it brought. */
  readonly fleets: readonly string[];
}

const shape = object({
  state: string()
    .oneOf(['loading', 'loaded', 'leaving'] as const)
    .required(),
  share: number().required(),
  revision: number().required(),
  pricesAt: number().required(),
  fleets: array(string().required()).required(),
});

/** The state of the demo data; undefined where the installation has none. */
export async function readDemo(tx: Queryable): Promise<DemoRecord | undefined> {
  const [row] = await tx.select().from(installation).where(eq(installation.name, name));
  return row && recordIn(row.value);
}

function recordIn(text: string): DemoRecord | undefined {
  try {
    return shape.validateSync(JSON.parse(text));
  } catch (error) {
    if (error instanceof SyntaxError || error instanceof ValidationError) return undefined;
    throw error;
  }
}

/** Stores the state of the demo data. */
export async function writeDemo(tx: Queryable, record: DemoRecord): Promise<void> {
  await writeInstallation(tx, name, JSON.stringify(record));
}

/** Changes the state of the demo data, unless it is being removed or there is none. */
export async function noteDemo({ db }: Database, more: Partial<DemoRecord>): Promise<void> {
  await db.transaction(async (tx) => {
    const [row] = await tx.select().from(installation).where(eq(installation.name, name)).for('update');
    const record = row && recordIn(row.value);
    if (record && record.state !== 'leaving') await writeDemo(tx, { ...record, ...more });
  });
}

/** Deletes the state of the demo data. */
export async function forgetDemo(tx: Queryable): Promise<void> {
  await tx.delete(installation).where(eq(installation.name, name));
}
