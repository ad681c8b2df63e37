import { formatDuration, parseDuration } from '../events/units.ts';
import { measures } from '../metrics/measures/index.ts';
import { emptyOf, limitOf, metricKeep } from '../metrics/metric.ts';
import { stepKinds } from '../steps/index.ts';
import { describeRanking } from '../talkers/ranking.ts';
import type {
  CapDocument,
  ExclusionDocument,
  MetricDocument,
  PipelineDocument,
  PlanDocument,
  PostureDocument,
  PostureOverride,
  RankingDocument,
  StepDocument,
  TierDocument,
} from './document.ts';
import { stepParts } from './document.ts';

/** One readable change between two plans. */
export interface PlanChange {
  readonly kind: 'added' | 'removed' | 'changed' | 'moved';
  /** The pipeline or tier it concerns, as a path in the plan. */
  readonly path: string;
  /** What changed, as a sentence without a full stop. */
  readonly text: string;
  readonly before?: string;
  readonly after?: string;
}

/** What was changed from one plan to the other, in the order of the plan. */
export function diffPlans(before: PlanDocument, after: PlanDocument): readonly PlanChange[] {
  return [
    ...diffList(before.pipelines, after.pipelines, 'pipelines', 'pipeline', diffPipeline),
    ...diffList(before.tiers, after.tiers, 'tiers', 'tier', diffTier),
    ...diffList(titled(before.metrics), titled(after.metrics), 'metrics', 'metric', diffMetric),
    ...diffList(before.rankings ?? [], after.rankings ?? [], 'rankings', 'ranking', diffRanking),
    ...diffList(before.postures ?? [], after.postures ?? [], 'postures', 'posture', diffPosture),
  ];
}

interface Named {
  readonly id: string;
  readonly title: string;
}

function diffList<T extends Named>(
  before: readonly T[],
  after: readonly T[],
  path: string,
  noun: string,
  inside: (before: T, after: T, path: string) => readonly PlanChange[],
): readonly PlanChange[] {
  const changes: PlanChange[] = [];
  for (const item of before) {
    if (!after.some((other) => other.id === item.id)) {
      changes.push({ kind: 'removed', path: `${path}.${item.id}`, text: `${noun} “${item.title}” is taken out` });
    }
  }
  const kept = before.filter((item) => after.some((other) => other.id === item.id)).map((item) => item.id);
  const order = after.filter((item) => kept.includes(item.id)).map((item) => item.id);
  for (const item of after) {
    const old = before.find((other) => other.id === item.id);
    if (!old) changes.push({ kind: 'added', path: `${path}.${item.id}`, text: `${noun} “${item.title}” is new` });
    else changes.push(...inside(old, item, `${path}.${item.id}`));
  }
  if (kept.join() !== order.join()) {
    changes.push({
      kind: 'moved',
      path,
      text: `the order of ${noun}s is now ${after.map((item) => item.title).join(', ')}`,
    });
  }
  return changes;
}

function changed(path: string, text: string, before: string, after: string): readonly PlanChange[] {
  return before === after ? [] : [{ kind: 'changed', path, text, before, after }];
}

function diffPipeline(before: PipelineDocument, after: PipelineDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  return [
    ...changed(path, `pipeline “${before.title}” has another title`, before.title, title),
    ...changed(path, `“${title}” is entered by other events`, before.when, after.when),
    ...diffSteps(before.steps, after.steps, path, title),
    ...changed(
      path,
      `“${title}” has other tests`,
      (before.tests ?? []).map(({ name }) => name).join(', '),
      (after.tests ?? []).map(({ name }) => name).join(', '),
    ),
  ];
}

/** Steps have no ids: equal ones are matched from both ends, and what lies between them was changed. */
function diffSteps(
  before: readonly StepDocument[],
  after: readonly StepDocument[],
  path: string,
  title: string,
): readonly PlanChange[] {
  const same = (a: StepDocument | undefined, b: StepDocument | undefined): boolean =>
    JSON.stringify(a) === JSON.stringify(b);
  let start = 0;
  while (start < Math.min(before.length, after.length) && same(before[start], after[start])) start++;
  let end = 0;
  while (
    end < Math.min(before.length, after.length) - start &&
    same(before[before.length - 1 - end], after[after.length - 1 - end])
  )
    end++;
  const old = before.slice(start, before.length - end);
  const fresh = after.slice(start, after.length - end);
  return Array.from({ length: Math.max(old.length, fresh.length) }, (_, i): PlanChange => {
    const number = start + i + 1;
    const was = old[i];
    const is = fresh[i];
    const name = `step ${number} of “${title}”`;
    if (!was) return { kind: 'added', path, text: `${name} is new: ${describeStep(is as StepDocument)}` };
    if (!is) return { kind: 'removed', path, text: `${name} is taken out: ${describeStep(was)}` };
    return {
      kind: 'changed',
      path,
      text: `${name} is changed: ${describeStep(is)}`,
      before: written(was),
      after: written(is),
    };
  });
}

/** A step's settings, one a line; of several templates each has its own. */
function written(step: StepDocument): string {
  const { options, when, onFailure } = stepParts(step);
  const lines = Object.entries(options).flatMap(([name, value]) => {
    if (Array.isArray(value)) return value.map((item) => `${name}: ${item}`);
    return [`${name}: ${typeof value === 'string' ? value : JSON.stringify(value)}`];
  });
  return [...lines, ...(when === '' ? [] : [`when: ${when}`]), `on-failure: ${onFailure}`].join('\n');
}

/** A step in a few words. */
export function describeStep(step: StepDocument): string {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  try {
    const text = known ? known.describe(known.schema.cast(options)) : kind;
    return when === '' ? text : `${text}, when ${when}`;
  } catch {
    return kind;
  }
}

function diffTier(before: TierDocument, after: TierDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  return [
    ...changed(path, `tier “${before.title}” has another title`, before.title, title),
    ...changed(path, `“${title}” takes other events`, before.when ?? '', after.when ?? ''),
    ...changed(path, `“${title}” keeps events for ${inWords(after.keep)}`, before.keep, after.keep),
    ...changed(path, `“${title}” ${describeCap(after.cap)}`, describeCap(before.cap), describeCap(after.cap)),
    ...diffList(
      before.exclusions ?? [],
      after.exclusions ?? [],
      `${path}.exclusions`,
      `exclusion in “${title}”`,
      diffExclusion,
    ),
  ];
}

/** What the cap of a tier does, in a few words. */
export function describeCap(cap: CapDocument | undefined): string {
  if (!cap) return 'has no cap';
  const { day, zone = 'UTC', over } = cap;
  const way = {
    passing: 'what is over passes',
    sample: 'what is over is sampled',
    refuse: 'what is over is refused',
  };
  return `keeps ${day} a day (${zone}); ${typeof over === 'string' ? way[over] : `what is over goes to ${over.tier}`}`;
}

function diffExclusion(before: ExclusionDocument, after: ExclusionDocument, path: string): readonly PlanChange[] {
  return [
    ...changed(path, `exclusion “${before.title}” has another title`, before.title, after.title),
    ...changed(path, `exclusion “${after.title}” is for other events`, before.when, after.when),
    ...changed(path, `exclusion “${after.title}” keeps ${after.keep}`, before.keep, after.keep),
    ...changed(
      path,
      `exclusion “${after.title}” keeps together by ${after.by ?? 'nothing'}`,
      before.by ?? '',
      after.by ?? '',
    ),
    ...changed(
      path,
      after.until ? `exclusion “${after.title}” ends at ${after.until}` : `exclusion “${after.title}” stays`,
      before.until ?? '',
      after.until ?? '',
    ),
    ...changed(path, `exclusion “${after.title}” has another reason`, before.reason ?? '', after.reason ?? ''),
    ...changed(path, `exclusion “${after.title}” has another owner`, before.owner ?? '', after.owner ?? ''),
  ];
}

type TitledMetric = MetricDocument & { readonly title: string };

function titled(metrics: readonly MetricDocument[] = []): readonly TitledMetric[] {
  return metrics.map((metric) => ({ ...metric, title: metric.name }));
}

function diffMetric(before: TitledMetric, after: TitledMetric, path: string): readonly PlanChange[] {
  const { name } = after;
  return [
    ...changed(path, `metric “${before.name}” has another name`, before.name, name),
    ...changed(path, `metric “${name}” is of other events`, before.when, after.when),
    ...changed(
      path,
      `metric “${name}” keeps the ${describeMeasure(after)}`,
      describeMeasure(before),
      describeMeasure(after),
    ),
    ...changed(path, `metric “${name}” is kept by ${describeKeys(after)}`, describeKeys(before), describeKeys(after)),
    ...changed(path, `metric “${name}” has another unit`, before.unit ?? '', after.unit ?? ''),
    ...changed(
      path,
      `metric “${name}” has at most ${limitOf(after)} series`,
      `${limitOf(before)}`,
      `${limitOf(after)}`,
    ),
    ...changed(
      path,
      `metric “${name}” is kept for ${formatDuration(metricKeep(after) / 1_000)}`,
      formatDuration(metricKeep(before) / 1_000),
      formatDuration(metricKeep(after) / 1_000),
    ),
    ...changed(path, `metric “${name}” shows ${emptyOf(after)} where nothing came`, emptyOf(before), emptyOf(after)),
    ...changed(path, `metric “${name}” has another description`, before.help ?? '', after.help ?? ''),
  ];
}

/** What a metric keeps, in a few words: `distribution of took`. */
export function describeMeasure({ measure, of }: Pick<MetricDocument, 'measure' | 'of'>): string {
  const title = measures.get(measure)?.title ?? measure;
  return of === undefined ? title : `${title} of ${of}`;
}

/** The keys of a metric in a few words: `status, top 20 of path`. */
export function describeKeys({ by = [] }: Pick<MetricDocument, 'by'>): string {
  if (by.length === 0) return 'nothing';
  return by
    .map(({ field, top, table, column }) => {
      if (top !== undefined) return `top ${top} of ${field}`;
      return table === undefined ? field : `${column ?? ''} of ${field} in ${table}`;
    })
    .join(', ');
}

function diffRanking(before: RankingDocument, after: RankingDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  const [was, is] = [describeRanking(before), describeRanking(after)];
  return [
    ...changed(path, `ranking “${before.title}” has another title`, before.title, title),
    ...changed(path, `ranking “${title}” is of other events`, before.when, after.when),
    ...changed(path, `ranking “${title}” is of the ${is}, and begins anew`, was, is),
  ];
}

function diffPosture(before: PostureDocument, after: PostureDocument, path: string): readonly PlanChange[] {
  const { title } = after;
  return [
    ...changed(path, `posture “${before.title}” has another title`, before.title, title),
    ...changed(path, `posture “${title}” has another reason`, before.reason ?? '', after.reason ?? ''),
    ...changed(path, `posture “${title}” is for another fleet`, before.fleet ?? '', after.fleet ?? ''),
    ...changed(path, `posture “${title}” changes other things`, overridesOf(before), overridesOf(after)),
  ];
}

function overridesOf({ overrides }: PostureDocument): string {
  return overrides.map(describeOverride).join('\n');
}

/** What an override of a posture does, in a few words. */
export function describeOverride({ exclusion, tier, keep = '', cap }: PostureOverride): string {
  if (tier !== undefined) {
    const longer = keep === '' ? [] : [`keeps events for ${inWords(keep)} at least`];
    return `tier ${tier} ${[...longer, ...(cap ? ['has no cap'] : [])].join(' and ')}`;
  }
  return exclusion === '*' ? `all exclusions keep ${keep}` : `exclusion ${exclusion} keeps ${keep}`;
}

function inWords(keep: string): string {
  const duration = parseDuration(keep);
  return duration === undefined ? keep : formatDuration(duration / 1000);
}
