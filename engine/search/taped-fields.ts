import { type CataloguePartial, type FieldShares, fieldShares } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { cachedBy, cachedFor } from '../base/cached-for.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import { readCatalogue } from './run-catalogue.ts';

/** For how long (milliseconds) shares are given again, and a catalogue, which people look at: both take the tape of a day. */
const sharesFreshFor = 300_000;
const catalogueFreshFor = 5_000;

interface Services {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: Pick<SourceDirectory, 'tables'>;
  readonly plan: Pick<PlanHolder, 'current'>;
}

/** Which fields the events on the tape of the last day have. */
export class TapedFields {
  private readonly catalogues = cachedBy(
    catalogueFreshFor,
    (plan: PlanDocument) => JSON.stringify([plan, this.services.directory.tables]),
    (plan) => this.read(plan),
  );

  private readonly shares = cachedFor(sharesFreshFor, async () => {
    return fieldShares(await this.read(this.services.plan.current().plan));
  });

  constructor(private readonly services: Services) {}

  /** Those that they have once they went through a plan, seconds old at most. */
  async catalogue(plan: PlanDocument): Promise<CataloguePartial> {
    return await this.catalogues(plan, Date.now());
  }

  /** How much of what each source sends its fields are by the live plan, minutes old at most. */
  async liveShares(): Promise<FieldShares> {
    return await this.shares(Date.now());
  }

  private async read(plan: PlanDocument): Promise<CataloguePartial> {
    const { database, pools, directory } = this.services;
    return await readCatalogue({ database, pools, tables: directory.tables }, plan);
  }
}
