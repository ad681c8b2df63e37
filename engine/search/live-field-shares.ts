import { type FieldShares, fieldShares } from '#core/fields/catalogue.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { Database } from '#store/database.ts';
import { cachedFor } from '../base/cached-for.ts';
import { type CatalogueSetting, readCatalogue } from './run-catalogue.ts';

/** For how long (milliseconds) shares are given again: they take the tape of a day. */
const freshFor = 300_000;

const known = new WeakMap<Database, (now: number) => Promise<FieldShares>>();

/**
 * How much of what each source sends its fields are, by the tape of the last day and the live plan; minutes old at most.
 * `settingNow` has what it is read with when that comes to be done again.
 */
export async function liveFieldShares(
  database: Database,
  settingNow: () => CatalogueSetting & { readonly plan: PlanDocument },
): Promise<FieldShares> {
  let shares = known.get(database);
  if (!shares) {
    shares = cachedFor(freshFor, async () => {
      const { plan, ...setting } = settingNow();
      return fieldShares(await readCatalogue(setting, plan));
    });
    known.set(database, shares);
  }
  return await shares(Date.now());
}
