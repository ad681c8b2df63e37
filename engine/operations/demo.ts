import type { DemoAnswer } from '#core/answers/demo.ts';
import { operations } from '#core/operations/index.ts';
import { firstPlan } from '#core/plan/document.ts';
import { isSame } from '#core/plan/merge.ts';
import type { Database } from '#store/database.ts';
import { readDemo, writeDemo } from '#store/demo.ts';
import { firstAndLastSeen } from '#store/volume/ledger.ts';
import { command, question } from './handler.ts';
import { Refusal } from './refusal.ts';
import type { OperationServices } from './services.ts';

export const demo = question(operations.demo, async (_input, services): Promise<DemoAnswer> => {
  const record = await readDemo(services.database.db);
  const { problem } = services.demo;
  if (record) return { state: record.state, share: record.share, obstacle: '', problem };
  return { state: 'absent', share: 0, obstacle: await obstacleIn(services), problem };
});

/** Why the demo data cannot be loaded; empty if it can. */
async function obstacleIn({ database, plan }: OperationServices): Promise<string> {
  if (await hasEvents(database)) return 'Events of other sources have arrived already.';
  if (!isSame(plan.current().plan, firstPlan)) return 'The plan has been changed, and the demo data brings its own.';
  return '';
}

async function hasEvents(database: Database): Promise<boolean> {
  return (await firstAndLastSeen(database)).size > 0;
}

export const loadDemo = command(operations.loadDemo, {
  subject: () => 'demo data',
  carryOut: async (_input, { tx, services }) => {
    if (await readDemo(tx))
      throw new Refusal(409, 'The demo data is there', 'This installation has the demo data already.');
    const obstacle = await obstacleIn(services);
    if (obstacle !== '') throw new Refusal(409, 'The demo data cannot be loaded here', obstacle);
    await writeDemo(tx, { state: 'loading', share: 0, revision: 0, pricesAt: 0, fleets: [] });
    return {};
  },
});

export const removeDemo = command(operations.removeDemo, {
  subject: () => 'demo data',
  carryOut: async (_input, { tx }) => {
    const record = await readDemo(tx);
    if (!record) throw new Refusal(404, 'There is no demo data', 'This installation has no demo data to remove.');
    await writeDemo(tx, { ...record, state: 'leaving' });
    return {};
  },
});
