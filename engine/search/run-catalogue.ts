import { type CatalogueField, catalogueFields, mergeCatalogue, newCatalogue } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import type { Pools } from '../workers/pools.ts';
import { overTape } from './over-tape.ts';

/** The field catalogue over the tape of the last day. */
export interface CatalogueAnswer {
  readonly at: number;
  readonly events: number;
  readonly fields: readonly CatalogueField[];
  readonly leftOut: number;
}

/** Most taped records looked at: enough for shares and bytes, few enough for an answer within a second or so. */
const mostRecords = 60_000;

/** Which fields the events of the last day have once they went through a plan; weights count, so figures are a day's. */
export async function runCatalogue(
  database: Database,
  pools: Pools,
  plan: PlanDocument,
  tables: Readonly<Record<string, number>>,
): Promise<CatalogueAnswer> {
  const now = Date.now();
  const merged = newCatalogue();
  await overTape(
    { database, pools, now, mostRecords },
    (lane, part) => pools.catalogue(lane, { kind: 'catalogue', plan, ...part, tables, now }),
    (part) => mergeCatalogue(merged, part),
  );
  return { at: now, events: merged.events, fields: catalogueFields(merged), leftOut: merged.leftOut };
}
