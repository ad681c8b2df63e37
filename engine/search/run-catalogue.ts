import { type CataloguePartial, mergeCatalogue, newCatalogue } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape } from './over-tape.ts';

/** What a catalogue is made with. */
export interface CatalogueSetting {
  readonly database: Database;
  readonly pools: Pools;
  /** When each table was last changed. */
  readonly tables: Readonly<Record<string, number>>;
}

/** Most taped records looked at: enough for shares and bytes, few enough for an answer within a second or so. */
const mostRecords = 60_000;

/** Which fields the events of the last day have once they went through a plan; weights count, so figures are a day's. */
export async function readCatalogue(
  { database, pools, tables }: CatalogueSetting,
  plan: PlanDocument,
): Promise<CataloguePartial> {
  const now = Date.now();
  const merged = newCatalogue();
  await overTape(
    { database, pools, now, mostRecords },
    (lane, part) => pools.read(lane, { kind: 'catalogue', plan, ...part, tables, now }),
    (part) => mergeCatalogue(merged, part),
  );
  return merged;
}
