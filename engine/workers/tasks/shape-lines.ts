import { conditionOf } from '#core/conditions/condition.ts';
import { textAt } from '#core/events/text-table.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { ShapeLines } from '#core/rehearsal/shape-lines.ts';
import { seededRandom } from '#core/routing/route.ts';
import { countHoleValues } from '#core/shapes/hole-values.ts';
import type { Skeleton } from '#core/shapes/token.ts';
import { readTape } from '#store/events/tape.ts';
import { retryRead } from '#store/retry-read.ts';
import { compiledPlan } from '../plans.ts';
import { currentShape, withShapes } from '../shapes.ts';
import { tapedBatches } from '../tape.ts';
import { workerDatabase } from '../worker-database.ts';

/** A shape that is looked for on a part of the tape. */
export interface ShapeLinesTask {
  readonly kind: 'shapeLines';
  readonly shape: string;
  readonly skeleton: Skeleton;
  readonly chunks: readonly number[];
  readonly plan: PlanDocument;
  /** Conditions of which it is found out how many of the shape's events they are about. */
  readonly conditions: readonly string[];
  readonly tables: Readonly<Record<string, number>>;
  readonly now: number;
}

/** The most lines of one batch whose holes are read. */
const mostLines = 4_000;

/** Looks at the lines of a shape, and at who reads them. */
export async function shapeLines(task: ShapeLinesTask): Promise<ShapeLines> {
  const plan = await compiledPlan(task.plan, task.tables);
  const conditions = task.conditions.map(conditionOf);
  const matched = conditions.map(() => 0);
  const lines: string[] = [];
  let count = 0;
  const context = { now: task.now, currentShape };
  for (const raw of tapedBatches(await retryRead(() => readTape(workerDatabase(), task.chunks)), [plan])) {
    const batch = withShapes(raw);
    const rows = rowsOf(batch, task.shape);
    for (const row of rows.slice(0, mostLines)) lines.push(textAt(batch.body, row));
    const { arrived } = plan.run(batch, { ...context, random: seededRandom(1) });
    const arrivedRows = rowsOf(arrived, task.shape);
    count += arrivedRows.length;
    conditions.forEach((condition, i) => {
      const mask = condition.test(arrived, context);
      for (const row of arrivedRows) matched[i] = (matched[i] as number) + (mask[row] as number);
    });
  }
  return { lines: count, values: countHoleValues(task.skeleton, lines), matched };
}

function rowsOf({ shape, rows }: ReturnType<typeof withShapes>, id: string): readonly number[] {
  if (!shape) return [];
  const codes = Array.from({ length: shape.table.count }, (_, code) => textAt(shape.table, code) === id);
  return Array.from({ length: rows }, (_, row) => row).filter((row) => codes[shape.codes[row] as number]);
}
