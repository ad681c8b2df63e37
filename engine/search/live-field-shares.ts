import { type FieldShares, fieldShares } from '#core/fields/catalogue.ts';
import type { Database } from '#store/database.ts';
import { cachedFor } from '../base/cached-for.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import { readCatalogue } from './run-catalogue.ts';

/** For how long (milliseconds) shares are given again: they take the tape of a day. */
const freshFor = 300_000;

interface Services {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: Pick<SourceDirectory, 'tables'>;
  readonly plan: Pick<PlanHolder, 'current'>;
}

/** How much of what each source sends its fields are, by the tape of the last day and the live plan. */
export class LiveFieldShares {
  private readonly shares = cachedFor(freshFor, async () => {
    const { database, pools, directory, plan } = this.services;
    return fieldShares(await readCatalogue({ database, pools, tables: directory.tables }, plan.current().plan));
  });

  constructor(private readonly services: Services) {}

  /** The shares, minutes old at most. */
  async now(): Promise<FieldShares> {
    return await this.shares(Date.now());
  }
}
