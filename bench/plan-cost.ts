import { firstPlan, type PlanDocument } from '../core/plan/document.ts';
import type { TestEngine } from '../engine/testing/engine.ts';
import { chunks } from './events.ts';
import { medianTurn, type Row, type Turn } from './measure.ts';
import { rate } from './rate.ts';

/** Pieces of 25,000 events in each turn. */
const perTurn = 16;

/** Events that happen in a second, as of traffic that a busy engine gets. */
const perSecond = 20_000;

/** What a plan leaves of the intake's rate: with it, and with the first plan, by turns. */
export async function planCost(
  engine: TestEngine,
  plan: PlanDocument,
  { id, turns: count, floor }: { readonly id: string; readonly turns: number; readonly floor: number },
): Promise<Row> {
  await engine.source('bench');
  const pieces = [...chunks(perSecond)].slice(0, perTurn);
  const measured = async (published: PlanDocument): Promise<number> => {
    await engine.publish(published);
    return await rate(engine, pieces);
  };
  // The first events bring the code up to speed.
  for (const published of [plan, firstPlan, plan]) await measured(published);
  const turns: Turn[] = [];
  for (let i = 0; i < count; i++) {
    const first = i % 2 === 0 ? await measured(firstPlan) : 0;
    const withPlan = await measured(plan);
    const alone = first || (await measured(firstPlan));
    turns.push({ ours: 1 / withPlan, peer: 1 / alone });
  }
  return medianTurn(id, turns, floor);
}
