import { type LookupTable, parseTable } from '#core/tables/table.ts';
import type { Database } from '#store/database.ts';
import { readTable } from '#store/plan/lookup-tables.ts';
import { retryRead } from '#store/retry-read.ts';

/** Tables that steps look values up in; read again when they were changed. */
export class LookupTables {
  private readonly tables = new Map<string, { readonly changedAt: number; readonly table: LookupTable }>();

  constructor(private readonly database: Database | (() => Database)) {}

  get(name: string): LookupTable | undefined {
    return this.tables.get(name)?.table;
  }

  /** Brings the tables up to date; `current` says when each was last changed (milliseconds). */
  async refresh(current: Readonly<Record<string, number>>): Promise<void> {
    for (const name of this.tables.keys()) if (!(name in current)) this.tables.delete(name);
    for (const [name, changedAt] of Object.entries(current)) {
      if (this.tables.get(name)?.changedAt === changedAt) continue;
      const database = typeof this.database === 'function' ? this.database() : this.database;
      const stored = await retryRead(() => readTable(database, name));
      const parsed = stored && parseTable(stored.csv);
      if (parsed?.ok) this.tables.set(name, { changedAt, table: parsed.table });
    }
  }
}
