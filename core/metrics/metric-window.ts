import { day, hour, minute } from '../events/time-units.ts';
import type { SummaryValue } from '../summaries/aggregate-states.ts';
import type { Aggregate } from '../summaries/summary.ts';
import { rolledUp, setPoint, wholeSeries } from './chunks.ts';
import { type LabelValue, labelInWords, type SeriesLabels } from './labels.ts';
import { chunkStart, hours, keptFrom, type Level, levels, minutes, placesOf, tenMinutes } from './levels.ts';
import type { Measure } from './measures/measure.ts';
import { filledPlaces, mergePoint, mergePoints, newPoints, type Points } from './points.ts';

/** Lengths of steps that a window may be shown in, and how many it has at most. */
const stepLengths = [
  minute, 5 * minute, 10 * minute, 30 * minute, hour, 2 * hour, 6 * hour, 12 * hour, day, 7 * day, 30 * day,
]; // biome-ignore format: one list reads better than eleven lines
const mostSteps = 500;

/** A window of time, in whole steps; milliseconds. */
export interface MetricWindow {
  readonly from: number;
  readonly to: number;
  readonly every: number;
}

/** The steps in which a window is shown: as fine as points of its beginning are kept, and as there is room for (`most` steps). */
export function metricWindow(from: number, to: number, now: number, most = mostSteps): MetricWindow {
  const finest = levels.find((level) => from >= keptFrom(level, now)) ?? hours;
  const every = stepLengths.find((step) => step >= finest.step && (to - from) / step <= most) ?? 30 * day;
  return { from: Math.floor(from / every) * every, to: Math.ceil(to / every) * every, every };
}

/** The level that a window is read from: the coarsest whose steps divide those of the window. */
export function levelOf({ every }: MetricWindow): Level {
  return [...levels].reverse().find(({ step }) => every % step === 0) ?? minutes;
}

/** Where the chunks of a window begin. */
export function chunkStarts(window: MetricWindow): readonly number[] {
  const { from, to } = window;
  const level = levelOf(window);
  const first = chunkStart(level, from);
  return Array.from({ length: Math.ceil((to - first) / level.chunk) }, (_, i) => first + i * level.chunk);
}

/** Levels whose fresh chunks say what the level of a window does not know yet: the finest last. */
export function finerLevels(window: MetricWindow): readonly Level[] {
  const level = levelOf(window);
  if (level === hours) return [tenMinutes, minutes];
  return level === tenMinutes ? [minutes] : [];
}

/** A chunk as it was read. */
export interface ReadChunk {
  readonly level: Level;
  readonly start: number;
  readonly series: number;
  readonly points: Points;
}

/** A group of series in a window. */
export interface WindowGroup {
  /** The values of the keys, in words. */
  readonly labels: readonly string[];
  /** By step; null where nothing came. */
  readonly values: readonly SummaryValue[];
  /** Over the whole window. */
  readonly all: SummaryValue;
}

/** A metric over a window. */
export interface WindowTable {
  readonly whole: WindowGroup;
  /** The largest first. */
  readonly groups: readonly WindowGroup[];
  /** What the others come to together, and how many they are; null where there are none. */
  readonly others: WindowGroup | null;
  readonly otherCount: number;
}

/** Puts the chunks of a metric together to a table of a window. Series are known by their number. */
export class WindowBuilder {
  private readonly groups = new Map<string, { readonly labels: readonly LabelValue[]; readonly points: Points }>();
  private readonly whole: Points;
  private readonly steps: number;
  private readonly level: Level;

  constructor(
    private readonly window: MetricWindow,
    private readonly aggregates: readonly Aggregate[],
    private readonly labelsOf: (series: number) => SeriesLabels,
    private readonly by: readonly string[],
  ) {
    this.steps = Math.max(1, Math.round((window.to - window.from) / window.every));
    this.level = levelOf(window);
    this.whole = newPoints(aggregates, this.steps);
  }

  /**
   * Adds the chunks of a series: those of the window's level, and fresh ones of finer levels, which count instead of what the
   * window's level says of their time.
   */
  addSeries(series: number, chunks: readonly ReadChunk[]): void {
    const { level } = this;
    const into = series === wholeSeries ? this.whole : this.groupOf(this.labelsOf(series));
    const byStart = new Map<number, Points>();
    const pointsAt = (start: number): Points => {
      let points = byStart.get(start);
      if (!points) byStart.set(start, (points = newPoints(this.aggregates, placesOf(level))));
      return points;
    };
    for (const { start, points } of chunks.filter((chunk) => chunk.level === level)) byStart.set(start, points);
    for (const finer of finerLevels(this.window))
      for (const { start, points } of chunks.filter((chunk) => chunk.level === finer)) {
        const begins = chunkStart(level, start);
        const rolled = rolledUp(points, finer, level, this.aggregates);
        const first = (start - begins) / level.step;
        for (let place = 0; place < finer.chunk / level.step; place++)
          setPoint(pointsAt(begins), first + place, rolled, place);
      }
    for (const [start, points] of byStart) this.addPoints(into, start, points);
  }

  /** Adds place `from` of some points, of a time (milliseconds), to the series of some labels. */
  addCell(labels: SeriesLabels, time: number, points: Points, from: number): void {
    const step = Math.floor((time - this.window.from) / this.window.every);
    if (step < 0 || step >= this.steps) return;
    mergePoint(this.whole, step, points, from);
    mergePoint(this.groupOf(labels), step, points, from);
  }

  /**
   * The table: the largest groups by a figure (its place among those of the measure); of figures that do not add up, those
   * first that something came for most of the time.
   */
  table(measure: Measure, figure: number, most: number): WindowTable {
    const shown = (points: Points, labels: readonly string[]): WindowGroup =>
      this.shown(points, labels, measure, figure);
    const ranked = [...this.groups.values()]
      .map(({ labels, points }) => ({
        points,
        steps: filledPlaces(points, this.steps).length,
        group: shown(points, labels.map(labelInWords)),
      }))
      .sort(measure.additive ? byAmount : (a, b) => b.steps - a.steps || byAmount(a, b));
    const rest = ranked.slice(most);
    const others = newPoints(this.aggregates, this.steps);
    for (const { points } of rest) mergePoints(others, this.steps, points, this.steps, (place) => place);
    return {
      whole: shown(this.whole, []),
      groups: ranked.slice(0, most).map(({ group }) => group),
      others: rest.length > 0 ? shown(others, []) : null,
      otherCount: rest.length,
    };
  }

  /** The groups with their points by step, or all together where there are no keys. */
  series(): readonly { readonly labels: SeriesLabels; readonly points: Points }[] {
    if (this.by.length === 0) return [{ labels: {}, points: this.whole }];
    return [...this.groups.values()].map(({ labels, points }) => ({
      labels: Object.fromEntries(this.by.map((name, i) => [name, labels[i] ?? null])),
      points,
    }));
  }

  private groupOf(labels: SeriesLabels): Points {
    const values = this.by.map((name) => (Object.hasOwn(labels, name) ? (labels[name] ?? null) : null));
    const id = JSON.stringify(values);
    let group = this.groups.get(id);
    if (!group) this.groups.set(id, (group = { labels: values, points: newPoints(this.aggregates, this.steps) }));
    return group.points;
  }

  private addPoints(into: Points, start: number, points: Points): void {
    const { from, every } = this.window;
    const { level } = this;
    const stepOf = (place: number): number => Math.floor((start + place * level.step - from) / every);
    mergePoints(into, this.steps, points, placesOf(level), stepOf);
  }

  private shown(points: Points, labels: readonly string[], measure: Measure, figure: number): WindowGroup {
    const of = measure.figures[figure]?.of ?? (() => null);
    const { every, from, to } = this.window;
    const all = newPoints(this.aggregates, 1);
    mergePoints(all, 1, points, this.steps, () => 0);
    return {
      labels,
      values: Array.from({ length: this.steps }, (_, step) =>
        points.filled[step] === 1 ? of(points.states, step, every / 1_000) : null,
      ),
      all: all.filled[0] === 1 ? of(all.states, 0, (to - from) / 1_000) : null,
    };
  }
}

interface Ranked {
  readonly group: WindowGroup;
}

function byAmount(a: Ranked, b: Ranked): number {
  return Number(b.group.all ?? 0) - Number(a.group.all ?? 0);
}
