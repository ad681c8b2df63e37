import { rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Changes } from '../cluster/changes.ts';
import { Leases } from '../cluster/leases.ts';
import { DemoTraffic } from '../demo/demo-traffic.ts';
import { removeDemo } from '../demo/remove-demo.ts';
import { HealthRegistry } from '../health/registry.ts';
import { openPlan } from '../plan/live-plan.ts';
import { PlanSwitches } from '../plan/plan-switches.ts';
import { SourceDirectory } from '../sources/source-directory.ts';
import { LookupTables } from '../workers/lookup-tables.ts';
import { placeOf } from '../workers/places.ts';
import type { OpenStore } from './open-store.ts';

/** What people change, at whichever engine: it is read now, and again whenever something was changed. */
export async function openChangeable({ config, log, database, engine, watch, shapes }: OpenStore) {
  const lookups = new LookupTables(database);
  const plan = await openPlan(database, () => ({ table: (name) => lookups.get(name), place: placeOf }));
  const health = new HealthRegistry(database);
  const directory = new SourceDirectory(database, log, (source) => health.forget(source));
  const switches = new PlanSwitches(database);
  const leases = new Leases(database, engine, log);
  const changes = new Changes(database, watch, async () => {
    await plan.refresh();
    await switches.refresh();
    await directory.refresh();
    await lookups.refresh(directory.tables);
    await health.refreshPlans();
    await demo.refresh();
  });
  const demo = new DemoTraffic({
    ...{ database, leases, config, log },
    remove: async (record) => {
      await removeDemo({ database, directory, health, plan, log }, record);
      await rm(join(config.dataDir, 'files', 'demo'), { recursive: true, force: true });
      await changes.refresh();
    },
  });
  await directory.refresh();
  await switches.refresh();
  await shapes.refresh();
  await demo.refresh();
  return { lookups, plan, health, directory, switches, leases, changes, demo };
}

/** What people change, open. */
export type OpenChangeable = Awaited<ReturnType<typeof openChangeable>>;
