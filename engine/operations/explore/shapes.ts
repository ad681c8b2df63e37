import type { ShapeAnswer, ShapesAnswer } from '#core/answers/shapes.ts';
import { compileCondition } from '#core/conditions/condition.ts';
import { severityClass, severityFromText } from '#core/events/severity.ts';
import { day, hour, minute } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import { addShapeLines, newShapeLines, type ShapeLines } from '#core/rehearsal/shape-lines.ts';
import { minuteSpan } from '#core/routing/ledger.ts';
import { holeSummaries } from '#core/shapes/hole-values.ts';
import { readableCondition, templateOfShape } from '#core/shapes/pieces.ts';
import { isAboutCounts, type ShapeSumView, shapesView, sumsWith } from '#core/views/shapes.ts';
import { nextShapesVersion } from '#store/cluster/counters.ts';
import type { StoredShape } from '#store/events/shapes.ts';
import { shapesSeen, setWanted as storeWanted, sumShapes } from '#store/events/shapes.ts';
import { designedPlan } from '../../plan/stored-plans.ts';
import { overTape } from '../../search/over-tape.ts';
import { type Asking, command, question } from '../handler.ts';
import { readersOf } from '../plan/readers.ts';
import { Refusal } from '../refusal.ts';
import type { OperationServices } from '../services.ts';
import { withoutSaved } from './expand-saved.ts';
import { searchWith, timeOf } from './search.ts';

/** Lengths of slices that a window may have, and how many slices it has at most. */
const sliceLengths = [minute, 5 * minute, 15 * minute, hour, 3 * hour, 6 * hour, 12 * hour, day, 7 * day, 30 * day];
const mostSlices = 42;

interface Window {
  readonly from: number;
  readonly to: number;
}

/** The resolution of stored volume from a time on (milliseconds). */
function heldBy(from: number, now: number): number {
  return from < now - minuteSpan ? hour : minute;
}

function sliceOf({ from, to }: Window, now: number): number {
  const least = heldBy(from, now);
  return sliceLengths.find((every) => every >= least && (to - from) / every <= mostSlices) ?? 30 * day;
}

/** Kinds of lines that a condition is about in a window; `ids`: all that it can be about, where that is known. */
async function view(
  services: OperationServices,
  condition: string,
  window: Window,
  asking: Pick<Asking, 'signal' | 'progress'>,
  ids?: readonly string[],
): Promise<ShapesAnswer> {
  const { database, shapes, directory } = services;
  const now = Date.now();
  const every = sliceOf(window, now);
  const compiled = compileCondition(await withoutSaved(database.db, condition));
  if (!compiled.ok)
    throw new Refusal(400, '', compiled.problem.message, { problem: { in: 'condition', ...compiled.problem } });
  const isCounted = isAboutCounts(compiled.condition);
  // A search aligns its buckets to the clock; counts are aligned to the beginning of the window.
  const step = isCounted ? heldBy(window.from, now) : every;
  const from = Math.floor(window.from / step) * step;
  const { current } = shapes.known;
  const stored = isCounted ? undefined : await storedSums(services, condition, { from, to: window.to }, every, asking);
  const counted = async (): Promise<readonly ShapeSumView[]> =>
    sumsWith(await sumShapes(database, { from, to: window.to, ...(ids && { ids }) }, every), compiled.condition, {
      now,
      fleets: directory.fleets,
      currentShape: current,
    });
  const view = shapesView(
    stored?.sums ?? (await counted()),
    { from, to: window.to, every },
    {
      facts: (id) => shapes.get(id),
      seen: await shapesSeen(database),
      isCounted,
      prices: await services.costs.prices(now),
    },
  );
  return { ...view, leftOut: stored?.leftOut ?? 0 };
}

/** Sums over stored events, for conditions that look at more than was counted as they arrived. */
async function storedSums(
  services: OperationServices,
  condition: string,
  window: Window,
  every: number,
  asking: Pick<Asking, 'signal' | 'progress'>,
): Promise<{ readonly sums: readonly ShapeSumView[]; readonly leftOut: number }> {
  const summary = `count() as events, sum(raw_bytes) as bytes by shape, source, tier, severity every ${every / minute}m`;
  const query = { condition, ...window, summary, limit: 0, buckets: 0, fields: false };
  const { summary: table } = await searchWith(services, query, undefined, asking);
  const rows = table?.rows ?? [];
  const sums = rows.map(([start, shape, source, tier, severity, events, bytes]) => ({
    start: Number(start),
    shape: String(shape ?? ''),
    source: String(source),
    tier: String(tier),
    outcome: 'kept',
    severity: severityClass(severityFromText(String(severity))),
    events: Number(events),
    bytes: Number(bytes),
  }));
  return { sums, leftOut: table ? table.groups - rows.length + table.leftOut : 0 };
}

export const shapes = question(operations.shapes, async ({ condition, from, to }, services, asking) => {
  const now = Date.now();
  return await view(services, condition, { from: timeOf(from, now), to: timeOf(to, now) }, asking);
});

/** Most taped records in which the lines of a shape are looked for. */
const mostRecords = 20_000;

export const shape = question(operations.shape, async ({ id, from, to }, services, asking): Promise<ShapeAnswer> => {
  const now = Date.now();
  const window = { from: timeOf(from, now), to: timeOf(to, now) };
  const known = services.shapes.get(id);
  if (!known) throw new Refusal(404, '', 'There is no shape of this id, or it is decided about in a moment.');
  const { shapes: views, ...answered } = await view(
    services,
    `shape = ${known.id}`,
    window,
    asking,
    services.shapes.idsOf(id),
  );
  const [found] = views;
  if (!found) throw new Refusal(404, '', 'No lines of this shape in this window.');
  const { plan } = await designedPlan(services.database.db);
  const readers = await readersOf(services, plan);
  const { lines, values, matched } = await linesOf(services, known, found.sources[0] ?? known.source, {
    plan,
    conditions: readers.map(({ condition }) => condition),
    signal: asking.signal,
  });
  return {
    shape: found,
    currency: answered.currency,
    days: Math.max(hour, answered.to - Math.max(answered.from, found.firstSeen)) / day,
    holes: holeSummaries(known.skeleton, known.sample, values),
    lines,
    condition: readableCondition(known, found.sources),
    template: templateOfShape(known.skeleton, known.sample) ?? null,
    readers: readers.flatMap(({ kind, name }, i) =>
      (matched[i] ?? 0) > 0 ? [{ kind, name, share: (matched[i] as number) / Math.max(1, lines) }] : [],
    ),
  };
});

/** Looks for the lines of a shape on the tape of a source. */
async function linesOf(
  { database, pools, directory }: OperationServices,
  { id, skeleton }: StoredShape,
  source: string,
  asked: { readonly plan: PlanDocument; readonly conditions: readonly string[]; readonly signal: AbortSignal },
): Promise<ShapeLines> {
  const now = Date.now();
  const { plan, conditions, signal } = asked;
  const task = { kind: 'shapeLines', shape: id, skeleton, plan, conditions, tables: directory.tables, now } as const;
  const found = newShapeLines(skeleton, conditions.length);
  await overTape(
    { database, pools, now, mostRecords, source, signal },
    (lane, { chunks }) => pools.read(lane, { ...task, chunks }),
    (part) => addShapeLines(found, part),
  );
  return found;
}

export const wantShape = command(operations.wantShape, {
  subject: ({ id }) => id,
  carryOut: async ({ id, wanted }, { tx, services }) => {
    const current = services.shapes.known.current(id);
    if (!(await storeWanted(tx, current, wanted, await nextShapesVersion(tx))))
      throw new Refusal(404, '', 'There is no shape of this id.');
    return { wanted };
  },
  answerAfter: async ({ shapes: catalogue }) => {
    await catalogue.refresh();
    return {};
  },
});
