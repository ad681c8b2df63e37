import { reach, ValidationError } from 'yup';
import { compileCondition } from '../conditions/condition.ts';
import { parseDuration } from '../events/units.ts';
import { measures } from '../metrics/measures/index.ts';
import { keyName } from '../metrics/metric.ts';
import { nearest } from '../patterns/nearest.ts';
import { parseDayAmount } from '../routing/cap.ts';
import { isZone } from '../routing/day-of-zone.ts';
import { stepKinds } from '../steps/index.ts';
import type { StepKind } from '../steps/step.ts';
import { readyRankings } from '../talkers/ranking.ts';
import {
  besides,
  keptOneIn,
  type MetricDocument,
  type MetricKey,
  onFailures,
  type PlanDocument,
  type PostureOverride,
  passingTier,
  type RankingDocument,
  rejectsTier,
  type StepDocument,
  stepParts,
} from './document.ts';
import { planShape } from './plan-shape.ts';

/** Something wrong in a plan: where (a path such as `tiers[0].exclusions[1].when`) and what, in a sentence. */
export interface PlanProblem {
  readonly path: string;
  readonly message: string;
}

export type CheckedPlan =
  | { readonly ok: true; readonly plan: PlanDocument }
  | { readonly ok: false; readonly problems: readonly PlanProblem[] };

/** Checks a plan and reports everything that is wrong with it at once. */
export function checkPlan(value: unknown): CheckedPlan {
  let plan: PlanDocument;
  try {
    // What nobody knows is told, not passed over: a slip of the pen would else change what a plan does, unseen.
    plan = planShape.validateSync(value, { abortEarly: false, strict: false, stripUnknown: false }) as PlanDocument;
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    const inner = error.inner.length > 0 ? error.inner : [error];
    return { ok: false, problems: inner.flatMap(problemsOf) };
  }
  const problems = [
    ...checkPipelines(plan),
    ...checkTiers(plan),
    ...checkMetrics(plan),
    ...checkRankings(plan),
    ...checkPostures(plan),
  ];
  return problems.length > 0 ? { ok: false, problems } : { ok: true, plan };
}

function problemsOf(fault: ValidationError): readonly PlanProblem[] {
  const { path = '', type, message, params } = fault;
  if (type !== 'noUnknown' || typeof params?.unknown !== 'string') return [{ path, message }];
  const described = (path === '' ? planShape : reach(planShape, path)).describe();
  const known = 'fields' in described && described.fields ? Object.keys(described.fields) : [];
  return params.unknown.split(', ').map((name) => {
    const suggestion = nearest(name, known);
    return {
      path: path === '' ? name : `${path}.${name}`,
      message: `nothing here is called ${name}${suggestion ? `; did you mean ${suggestion}?` : ''}`,
    };
  });
}

function checkPipelines(plan: PlanDocument): PlanProblem[] {
  return [
    ...repeated(plan.pipelines, 'pipelines'),
    ...plan.pipelines.flatMap((pipeline, i) => [
      ...checkCondition(pipeline.when, `pipelines[${i}].when`),
      ...pipeline.steps.flatMap((step, k) => checkStep(step, `pipelines[${i}].steps[${k}]`)),
    ]),
  ];
}

/** Checks one step; `path` is where it stands. */
export function checkStep(step: StepDocument, path: string): PlanProblem[] {
  const { kind, options, when } = stepParts(step);
  const known = stepKinds.get(kind);
  if (!known) {
    const suggestion = nearest(kind, [...stepKinds.keys()]);
    const hint = suggestion ? `; did you mean ${suggestion}?` : '';
    return [{ path, message: kind === '' ? 'the step says not what it does' : `there is no step ${kind}${hint}` }];
  }
  const guard = [
    ...checkCondition(when, `${path}.when`),
    ...checkBeside(step, path),
    ...checkNames(known, step, options, path),
  ];
  try {
    const valid = known.schema.validateSync(options, { abortEarly: false });
    const inner = known.check?.(valid) ?? [];
    const nested = (known.branches?.(valid) ?? []).flatMap((branch) => [
      ...(branch.when === undefined
        ? []
        : checkCondition(branch.when, `${path}.${kind}.${branch.path.replace(/steps$/, 'when')}`)),
      ...branch.steps.flatMap((step, i) => checkStep(step, `${path}.${kind}.${branch.path}[${i}]`)),
    ]);
    return [
      ...guard,
      ...inner.map((problem) => ({ path: `${path}.${kind}.${problem.path}`, message: problem.message })),
      ...nested,
    ];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    return [
      ...guard,
      ...error.inner.map((fault) => ({ path: `${path}.${kind}.${fault.path}`, message: fault.message })),
    ];
  }
}

/** What stands beside what a step does: what cannot be read would else be passed over, and the step do more than is meant. */
function checkBeside(step: StepDocument, path: string): PlanProblem[] {
  const { when = '', 'on-failure': onFailure = 'keep' } = step;
  return [
    ...(typeof when === 'string'
      ? []
      : [{ path: `${path}.when`, message: 'a guard is a condition, written as a text' }]),
    ...(onFailures.some((choice) => choice === onFailure)
      ? []
      : [{ path: `${path}.on-failure`, message: `on-failure is ${onFailures.join(', ')}, not ${String(onFailure)}` }]),
  ];
}

/** Names that mean nothing in a step or its options: a slip of the pen would else change what the step does, unseen. */
function checkNames({ kind, schema }: StepKind, step: StepDocument, options: object, path: string): PlanProblem[] {
  const described = schema.describe();
  const fields = 'fields' in described ? described.fields : undefined;
  const known = typeof fields === 'object' && fields !== null ? Object.keys(fields) : [];
  return [
    ...Object.keys(step)
      .filter((name) => name !== kind && !besides.has(name))
      .map((name) => ({
        path: `${path}.${name}`,
        message: `a step does one thing, and this one does ${kind} already`,
      })),
    ...Object.keys(options)
      .filter((name) => !known.includes(name))
      .map((name) => {
        const suggestion = nearest(name, known);
        const hint = suggestion ? `; did you mean ${suggestion}?` : '';
        return { path: `${path}.${kind}.${name}`, message: `${kind} has no option ${name}${hint}` };
      }),
  ];
}

/** Shortest that a metric is kept, in milliseconds. */
const shortestMetric = 86_400_000;

/** Longest that anything is kept, in milliseconds. */
const longestKeep = 36_525 * 86_400_000;

function checkTiers(plan: PlanDocument): PlanProblem[] {
  const builtIn: readonly string[] = [passingTier.id, rejectsTier.id];
  return [
    ...repeated(plan.tiers, 'tiers'),
    ...plan.tiers.flatMap((tier, i) => {
      const path = `tiers[${i}]`;
      const keep = parseDuration(tier.keep);
      return [
        ...(builtIn.includes(tier.id)
          ? [{ path: `${path}.id`, message: `${tier.id} is a tier that is built in` }]
          : []),
        ...checkCondition(tier.when ?? '', `${path}.when`),
        ...(keep === undefined || !(keep >= 60_000 && keep <= longestKeep)
          ? [
              {
                path: `${path}.keep`,
                message: `${tier.keep} is no duration of a minute or more, such as 30d, up to 100 years`,
              },
            ]
          : []),
        ...checkCap(plan, i),
        ...repeated(tier.exclusions ?? [], `${path}.exclusions`),
        ...(tier.exclusions ?? []).flatMap((exclusion, k) => [
          ...checkCondition(exclusion.when, `${path}.exclusions[${k}].when`),
          ...(keptOneIn(exclusion.keep) === undefined
            ? [
                {
                  path: `${path}.exclusions[${k}].keep`,
                  message: shareFault,
                },
              ]
            : []),
          ...(exclusion.until !== undefined && Number.isNaN(Date.parse(exclusion.until))
            ? [{ path: `${path}.exclusions[${k}].until`, message: 'until is a time such as 2026-11-27T18:00:00Z' }]
            : []),
        ]),
      ];
    }),
  ];
}

/** The cap of the tier at a place of the plan. */
function checkCap({ tiers }: PlanDocument, place: number): PlanProblem[] {
  const cap = tiers[place]?.cap;
  if (!cap) return [];
  const path = `tiers[${place}].cap`;
  const to = typeof cap.over === 'string' ? undefined : cap.over.tier;
  const target = tiers.findIndex(({ id }) => id === to);
  const wayOn =
    target < 0
      ? `there is no tier ${to}`
      : `what is past a cap goes down the stream, and ${to} does not stand below ${tiers[place]?.id}`;
  return [
    ...(parseDayAmount(cap.day)
      ? []
      : [{ path: `${path}.day`, message: `${cap.day} is no amount a day, such as 2 GB or 500000 events` }]),
    ...(cap.zone !== undefined && !isZone(cap.zone)
      ? [{ path: `${path}.zone`, message: `${cap.zone} is not a time zone, such as Europe/Oslo or UTC` }]
      : []),
    ...(to !== undefined && target <= place ? [{ path: `${path}.over`, message: wayOn }] : []),
  ];
}

const shareFault = 'keep is none, all, or 1 in a number from 2 to 1,000,000';

/** Metrics are told apart by names as by ids; names by OpenTelemetry's rules, in any case. */
function checkMetrics({ metrics = [] }: PlanDocument): PlanProblem[] {
  const names = metrics.map(({ id, name }) => ({ id: name.toLowerCase(), told: id }));
  return [
    ...repeated(metrics, 'metrics'),
    ...repeated(names, 'metrics').map(({ path, message }) => ({ path: path.replace(/\.id$/, '.name'), message })),
    ...metrics.flatMap((metric, i) => checkMetric(metric, `metrics[${i}]`)),
  ];
}

function checkMetric(metric: MetricDocument, path: string): PlanProblem[] {
  const measure = measures.get(metric.measure);
  const needsField = measure !== undefined && measure.field !== 'none';
  const keep = metric.keep === undefined ? undefined : parseDuration(metric.keep);
  return [
    ...checkCondition(metric.when, `${path}.when`),
    ...(needsField && !metric.of
      ? [{ path: `${path}.of`, message: `say of which field: a ${measure.title} is of one` }]
      : []),
    ...(!needsField && metric.of !== undefined
      ? [{ path: `${path}.of`, message: `a ${metric.measure} is of the events, not of a field` }]
      : []),
    ...(metric.by ?? []).flatMap((key, k) => checkKey(key, `${path}.by[${k}]`)),
    ...repeated(
      (metric.by ?? []).map((key) => ({ id: keyName(key).toLowerCase() })),
      `${path}.by`,
    ).map(({ path: at, message }) => ({ path: at.replace(/\.id$/, '.field'), message })),
    ...(metric.keep !== undefined && !(keep !== undefined && keep >= shortestMetric && keep <= longestKeep)
      ? [
          {
            path: `${path}.keep`,
            message: `${metric.keep} is no duration of a day or more, such as 456d, up to 100 years`,
          },
        ]
      : []),
  ];
}

function checkKey({ field, top, table, column }: MetricKey, path: string): PlanProblem[] {
  return [
    ...(field.toLowerCase() === 'tier' || field.toLowerCase() === 'fleet'
      ? [{ path: `${path}.field`, message: `this is kept before events get a ${field}: it cannot be a key` }]
      : []),
    ...(top !== undefined && table !== undefined
      ? [{ path, message: 'a key is cut to its top or goes through a table, not both' }]
      : []),
    ...((table === undefined) === (column === undefined)
      ? []
      : [{ path, message: 'a key that goes through a table names the table and its column' }]),
  ];
}

function checkRankings({ rankings = [] }: PlanDocument): PlanProblem[] {
  return [...repeated(rankings, 'rankings'), ...rankings.flatMap((one, i) => checkRanking(one, `rankings[${i}]`))];
}

function checkRanking({ id, when, by, measure, of }: RankingDocument, path: string): PlanProblem[] {
  const isSum = measure === 'sum';
  return [
    ...(readyRankings.some((ready) => ready.id === id)
      ? [{ path: `${path}.id`, message: `${id} is a ranking that is kept anyway: choose another id` }]
      : []),
    ...checkCondition(when, `${path}.when`),
    ...by.flatMap((field, k) => checkKey({ field }, `${path}.by[${k}]`)),
    ...repeated(
      by.map((field) => ({ id: field.toLowerCase() })),
      `${path}.by`,
    ).map(({ path: at, message }) => ({ path: at.replace(/\.id$/, ''), message })),
    ...(isSum && !of ? [{ path: `${path}.of`, message: 'say of which field: a sum is of one' }] : []),
    ...(!isSum && of !== undefined
      ? [{ path: `${path}.of`, message: `a ranking by ${measure} is of the events, not of a field` }]
      : []),
  ];
}

function checkPostures({ postures = [], tiers }: PlanDocument): PlanProblem[] {
  const ids = tiers.map(({ id }) => id);
  const exclusions = tiers.flatMap(({ id, exclusions: own = [] }) => [
    `${id}/*`,
    ...own.map((one) => `${id}/${one.id}`),
  ]);
  return [
    ...repeated(postures, 'postures'),
    ...postures.flatMap(({ overrides }, i) =>
      overrides.flatMap((override, k) => {
        const path = `postures[${i}].overrides[${k}]`;
        return [...checkOverride(override, path, ids, ['*', ...exclusions])];
      }),
    ),
  ];
}

function checkOverride(
  { exclusion, tier, keep = '', cap }: PostureOverride,
  path: string,
  tiers: readonly string[],
  exclusions: readonly string[],
): PlanProblem[] {
  if ((exclusion === undefined) === (tier === undefined))
    return [{ path, message: 'an override is about an exclusion or about a tier: name one of them' }];
  if (exclusion !== undefined) {
    const hint = nearest(exclusion, exclusions);
    return [
      ...(exclusions.includes(exclusion)
        ? []
        : [
            {
              path: `${path}.exclusion`,
              message: `there is no exclusion ${exclusion}; write tier/exclusion, tier/* or *${hint ? `; did you mean ${hint}?` : ''}`,
            },
          ]),
      ...(keptOneIn(keep) === undefined ? [{ path: `${path}.keep`, message: shareFault }] : []),
      ...(cap === undefined
        ? []
        : [{ path: `${path}.cap`, message: 'a cap is lifted of a tier, not of an exclusion' }]),
    ];
  }
  const time = parseDuration(keep);
  const saysNothing = keep === '' && cap === undefined;
  if (saysNothing) return [{ path, message: 'say for how long the tier keeps at least, or that its cap is lifted' }];
  return [
    ...(tiers.includes(tier ?? '') ? [] : [{ path: `${path}.tier`, message: `there is no tier ${tier}` }]),
    ...(keep !== '' && (time === undefined || !(time >= 60_000 && time <= longestKeep))
      ? [{ path: `${path}.keep`, message: `${keep} is no duration of a minute or more, such as 30d, up to 100 years` }]
      : []),
  ];
}

function checkCondition(text: string, path: string): PlanProblem[] {
  const compiled = compileCondition(text);
  if (compiled.ok) return [];
  const { message, start, suggestion } = compiled.problem;
  return [{ path, message: `${message} (character ${start + 1})${suggestion ? `; did you mean ${suggestion}?` : ''}` }];
}

function repeated(items: readonly { readonly id: string }[], path: string): PlanProblem[] {
  return items
    .map((item, i) => ({ item, i }))
    .filter(({ item, i }) => items.findIndex((other) => other.id === item.id) < i)
    .map(({ item, i }) => ({ path: `${path}[${i}].id`, message: `${item.id} is used twice` }));
}
