import type { RevisionTimelineAnswer, TimelinePoint } from '#core/answers/plan.ts';
import { hour } from '#core/events/time-units.ts';
import { operations } from '#core/operations/index.ts';
import type { ShapeSpreads } from '#core/rehearsal/hour-spreads.ts';
import type { VolumeSum } from '#core/routing/volume-sums.ts';
import { grouped } from '#core/tables/grouped.ts';
import type { NotedPrediction } from '#core/views/revision-effect.ts';
import {
  shapeTimeline,
  type TimelineStretch,
  revisionTimeline as timeline,
  timelineStretch,
} from '#core/views/revision-timeline.ts';
import type { Database } from '#store/database.ts';
import { sumShapes } from '#store/events/shapes.ts';
import { auditBetween } from '#store/people/audit.ts';
import { listPlanSwitches } from '#store/plan/plan-switches.ts';
import { latestRevision } from '#store/plan/plans.ts';
import { sumLedger } from '#store/volume/ledger.ts';
import { notedPrediction } from './noted-prediction.ts';

/** The most audit entries that are searched for switches. */
const mostChanges = 2_000;

/** The timeline of a revision without a usable prediction or a complete interval. */
export const nothingYet: RevisionTimelineAnswer = { every: null, rows: [], newSources: [], switched: [] };

/** What timelines are read from. */
interface TimelineServices {
  readonly database: Database;
  readonly shapes: ShapeNames;
}

/** What is known of shapes by their ids. */
export interface ShapeNames {
  /** The id under which a shape goes now. */
  readonly current: (id: string) => string;
  /** All ids that ever stood for a shape. */
  readonly idsOf: (id: string) => readonly string[];
  /** An example line; empty if there is none. */
  readonly lineOf: (id: string) => string;
}

/** The timeline of a revision from its publication to a time (milliseconds). */
export async function timelineOf(
  { database, shapes }: TimelineServices,
  { hours = [], shapeHours = [], sources }: NotedPrediction,
  publishedAt: number,
  until: number,
): Promise<RevisionTimelineAnswer> {
  const stretch = timelineStretch(publishedAt, until);
  if (!stretch || hours.length === 0) return nothingYet;
  const { from, to, every } = stretch;
  const came = await sumLedger(database, stretch, ['source', 'outcome', 'tier'], every);
  const isSwitched = await switchedIn(database, stretch);
  const starts = Array.from({ length: Math.round((to - from) / every) }, (_, i) => from + i * every);
  const known = new Set(sources.map(({ id }) => id));
  const newSources = [...new Set(came.map(({ source = '' }) => source))].filter((source) => !known.has(source)).sort();
  const intervals = { ...stretch, isLeftOut: (start: number) => isSwitched(start, start + every) };
  // What has become part of another shape since is not told from it any more.
  const followed = shapeHours.filter(({ shape }) => shapes.current(shape) === shape);
  const cameByShape = await sumsOfShapes({ database, shapes }, followed, stretch);
  return {
    every,
    rows: [
      ...timeline({ sources: [...known], hours }, came, intervals),
      ...shapeTimeline({ sources: [...known], shapes: followed }, cameByShape, intervals, shapes.lineOf),
    ],
    newSources,
    switched: starts.filter((start) => isSwitched(start, start + every)),
  };
}

/** What came of shapes in intervals, with what came of those that are part of them by now. */
async function sumsOfShapes(
  { database, shapes }: TimelineServices,
  followed: readonly ShapeSpreads[],
  { from, to, every }: TimelineStretch,
): Promise<ReadonlyMap<string, readonly VolumeSum[]>> {
  const ids = followed.flatMap(({ shape }) => shapes.idsOf(shape));
  const sums = ids.length > 0 ? await sumShapes(database, { from, to, ids }, every) : [];
  return grouped(
    sums.map((sum) => ({ ...sum, stored: 0 })),
    ({ shape }) => shapes.current(shape),
  );
}

/** Tells whether a posture or exclusion was switched between two times (milliseconds). */
async function switchedIn(
  database: Database,
  window: { readonly from: number; readonly to: number },
): Promise<(from: number, to: number) => boolean> {
  const [switches, changes] = await Promise.all([
    listPlanSwitches(database.db),
    auditBetween(database, window, mostChanges),
  ]);
  const commands = new Set(
    [operations.switchPosture, operations.switchExclusion, operations.restoreExclusion].map(
      ({ method, path }) => `${method} ${path}`,
    ),
  );
  const times = changes.filter(({ command }) => commands.has(command)).map(({ at }) => at);
  return (from, to) =>
    switches.some(({ since, until }) => since < to && until > from) || times.some((at) => at >= from && at < to);
}

/** Predicted and measured volume of the live revision in the last full hour; undefined without a prediction, or if something was switched. */
export async function lastHourOfRevision(
  database: Database,
  now: number,
): Promise<{ readonly number: number; readonly point: TimelinePoint } | undefined> {
  const revision = await latestRevision(database.db);
  const predicted = revision && notedPrediction(revision.predicted);
  const to = Math.floor(now / hour) * hour;
  const stretch = { from: to - hour, to, every: hour };
  if (!revision || !predicted?.hours || revision.publishedAt > stretch.from) return undefined;
  const isSwitched = await switchedIn(database, stretch);
  const came = await sumLedger(database, stretch, ['source', 'outcome', 'tier'], hour);
  const { hours, sources } = predicted;
  const intervals = { ...stretch, isLeftOut: () => isSwitched(stretch.from, to) };
  const [all] = timeline({ sources: sources.map(({ id }) => id), hours }, came, intervals);
  const [point] = all?.points ?? [];
  return point && { number: revision.number, point };
}
