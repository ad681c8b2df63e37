import { type CataloguePartial, type FieldShares, fieldShares } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { cachedBy, cachedFor } from '../base/cached-for.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { Pools } from '../workers/pools.ts';
import { readCatalogue } from './run-catalogue.ts';

/** How long shares and a catalogue are cached (milliseconds); computing either reads a day of tape. */
const sharesFreshFor = 300_000;
const catalogueFreshFor = 5_000;

interface Services {
  readonly database: Database;
  readonly pools: Pools;
  readonly directory: Pick<SourceDirectory, 'tables'>;
  readonly plan: Pick<PlanHolder, 'current'>;
}

/** The fields of the events on the tape of the last day. */
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

  /** The fields after a plan has processed the events; at most a few seconds old. */
  async catalogue(plan: PlanDocument): Promise<CataloguePartial> {
    return await this.catalogues(plan, Date.now());
  }

  /** The share of each field in the volume of its source under the live plan; at most a few minutes old. */
  async liveShares(): Promise<FieldShares> {
    return await this.shares(Date.now());
  }

  private async read(plan: PlanDocument): Promise<CataloguePartial> {
    const { database, pools, directory } = this.services;
    return await readCatalogue({ database, pools, tables: directory.tables }, plan);
  }
}
