import type {
  MetricDocument,
  PipelineDocument,
  PlanDocument,
  PostureDocument,
  RankingDocument,
  TierDocument,
} from './document.ts';
import { stepParts } from './document.ts';

/** Where in a plan something is: for people, and as an address in the application where it can be edited. */
export interface PlanPlace {
  /** Such as: Pipeline “Web access lines”, step 2 (extract), template. Empty for the plan as a whole. */
  readonly words: string;
  /** The page with the place open; undefined for what has no page. */
  readonly link: string | undefined;
}

/**
 * Tells a path in words. Paths are those of problems (`pipelines[0].steps[1].extract.template`) or of conflicts, which name
 * things by their ids and count steps from 1 (`pipelines/web/steps/2/extract`).
 */
export function placeInWords(plan: PlanDocument, path: string): PlanPlace {
  const isCounted = path.includes('[') || path.includes('.');
  const parts = path.split(/[./[\]]+/).filter((part) => part !== '');
  const [list, which = '', ...rest] = parts;
  if (list === 'pipelines') return inPipeline(found(plan.pipelines, which, isCounted), rest, isCounted);
  if (list === 'tiers') return inTier(found(plan.tiers, which, isCounted), rest, isCounted);
  if (list === 'metrics') return inMetric(found(plan.metrics ?? [], which, isCounted), rest, isCounted);
  if (list === 'rankings') return inRanking(found(plan.rankings ?? [], which, isCounted), rest, isCounted);
  if (list === 'postures') return inPosture(found(plan.postures ?? [], which, isCounted), rest, isCounted);
  return { words: parts.join(' '), link: undefined };
}

function inMetric(metric: MetricDocument | string, rest: readonly string[], isCounted: boolean): PlanPlace {
  const [part, which, ...inside] = rest;
  const number = Number(which) + (isCounted ? 1 : 0);
  const place = part === 'by' && which !== undefined ? [`key ${number}`, ...inside] : rest;
  const name = typeof metric === 'string' ? metric : metric.name || metric.id;
  const field = part === undefined ? '' : `&field=${encodeURIComponent(part)}`;
  return {
    words: [`Metric “${name}”`, ...place].join(', '),
    link: typeof metric === 'string' ? undefined : `/metrics?edit=${encodeURIComponent(metric.id)}${field}`,
  };
}

function inRanking(ranking: RankingDocument | string, rest: readonly string[], isCounted: boolean): PlanPlace {
  const [part, which] = rest;
  const place = part === 'by' && which !== undefined ? [`key ${Number(which) + (isCounted ? 1 : 0)}`] : rest;
  const field = part === undefined ? '' : `&field=${encodeURIComponent(part)}`;
  return {
    words: [`Ranking “${titleOf(ranking)}”`, ...place].join(', '),
    link: typeof ranking === 'string' ? undefined : `/metrics/talkers?edit=${encodeURIComponent(ranking.id)}${field}`,
  };
}

function inPosture(posture: PostureDocument | string, rest: readonly string[], isCounted: boolean): PlanPlace {
  const [part, which, ...inside] = rest;
  const number = Number(which) + (isCounted ? 1 : 0);
  const place = part === 'overrides' && which !== undefined ? [`override ${number}`, ...inside] : rest;
  return {
    words: [`Posture “${titleOf(posture)}”`, ...place].join(', '),
    link: typeof posture === 'string' ? undefined : `/routing?posture=${encodeURIComponent(posture.id)}`,
  };
}

type Named = { readonly id: string };

function found<Thing extends Named>(list: readonly Thing[], which: string, isCounted: boolean): Thing | string {
  return (isCounted ? list[Number(which)] : list.find(({ id }) => id === which)) ?? which;
}

function titleOf(thing: (Named & { readonly title: string }) | string): string {
  return typeof thing === 'string' ? thing : thing.title || thing.id;
}

function inPipeline(pipeline: PipelineDocument | string, rest: readonly string[], isCounted: boolean): PlanPlace {
  const page = typeof pipeline === 'string' ? undefined : `/parsing/${encodeURIComponent(pipeline.id)}`;
  const whole = `Pipeline “${titleOf(pipeline)}”`;
  const [part, which, ...inside] = rest;
  if (part !== 'steps' || which === undefined)
    return { words: [whole, ...rest].join(', '), link: page && (part ? `${page}?field=${part}` : page) };
  const number = Number(which) + (isCounted ? 1 : 0);
  const step = typeof pipeline === 'string' ? undefined : pipeline.steps[number - 1];
  const kind = step && stepParts(step).kind;
  const named = inside.filter((name) => name !== kind);
  const field = named[0] === undefined ? '' : `&field=${encodeURIComponent(named[0])}`;
  return {
    words: [whole, `step ${number}${kind ? ` (${kind})` : ''}`, ...named].join(', '),
    link: page && `${page}?step=${number}${field}`,
  };
}

function inTier(tier: TierDocument | string, rest: readonly string[], isCounted: boolean): PlanPlace {
  const page = typeof tier === 'string' ? undefined : `/routing?tier=${encodeURIComponent(tier.id)}`;
  const whole = `Tier “${titleOf(tier)}”`;
  const [part, which, ...inside] = rest;
  if (part !== 'exclusions' || which === undefined)
    return { words: [whole, ...rest].join(', '), link: page && (part ? `${page}&field=${part}` : page) };
  const exclusions = typeof tier === 'string' ? [] : (tier.exclusions ?? []);
  const exclusion = found(exclusions, which, isCounted);
  const id = typeof exclusion === 'string' ? '' : `&exclusion=${encodeURIComponent(exclusion.id)}`;
  const field = inside[0] === undefined ? '' : `&field=${encodeURIComponent(inside[0])}`;
  return {
    words: [whole, `exclusion “${titleOf(exclusion)}”`, ...inside].join(', '),
    link: page && `${page}${id}${field}`,
  };
}
