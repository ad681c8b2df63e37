import type { EmptyValue } from './parts/metrics/metrics-shape.ts';
import type { ExpectedFields, StepDocument } from './parts/pipelines/pipelines-shape.ts';
import type { RankingMeasure } from './parts/rankings/rankings-shape.ts';
import type { CapOverflow } from './parts/tiers/tiers-shape.ts';

export type { StepDocument };

/**
 * A plan as it is written in YAML or JSON. Conditions, templates, durations and shares are texts.
 */
export interface PlanDocument {
  readonly plan: 1;
  readonly pipelines: readonly PipelineDocument[];
  readonly tiers: readonly TierDocument[];
  /** Numbers that are kept of events as they arrive, whatever becomes of them. */
  readonly metrics?: readonly MetricDocument[] | undefined;
  readonly rankings?: readonly RankingDocument[] | undefined;
  /** Named sets of overrides that can be switched on for a while. */
  readonly postures?: readonly PostureDocument[] | undefined;
}

export interface PipelineDocument {
  readonly id: string;
  readonly title: string;
  /** Which events enter. */
  readonly when: string;
  readonly steps: readonly StepDocument[];
  /** Samples with what must come out; they run at every publish and block it when they fail. */
  readonly tests?: readonly PipelineTest[] | undefined;
}

/** A sample kept as a test of a pipeline. */
export interface PipelineTest {
  readonly name: string;
  /** A record as it arrives. */
  readonly input: string;
  /** When it arrived, ISO 8601: the clock for times without a year or far from it. Absent: 2026-01-15T12:00:00Z. */
  readonly arrived?: string | undefined;
  /** Fields afterwards; null for one that must be absent. Fields that are not named may be anything. */
  readonly expect: ExpectedFields;
}

/** What may happen to an event that a step cannot handle; it is kept where a step says nothing. */
export const onFailures = ['keep', 'reject', 'discard'] as const;
export type OnFailure = (typeof onFailures)[number];

export interface TierDocument {
  readonly id: string;
  readonly title: string;
  /** Which events it takes; absent: every event that comes this far. */
  readonly when?: string | undefined;
  /** How long it keeps them: `30d`. */
  readonly keep: string;
  readonly exclusions?: readonly ExclusionDocument[] | undefined;
  /** What it may keep in a day; absent: as much as comes. */
  readonly cap?: CapDocument | undefined;
}

/** A day's allowance of a tier, and what becomes of what comes past it. */
export interface CapDocument {
  /** `2 GB` of events as they arrived, or `500000 events`. */
  readonly day: string;
  /** The time zone whose days are meant, by its IANA name; absent: UTC. */
  readonly zone?: string | undefined;
  /** Past it: a tier further down, a fair sample, the passing tier, or refused at intake. */
  readonly over: CapOverflow;
  /** Whether it rests; a posture says so, a plan does not. */
  readonly lifted?: boolean | undefined;
}

export interface ExclusionDocument {
  readonly id: string;
  readonly title: string;
  readonly when: string;
  /** `none`, `all`, or `1 in 50`. */
  readonly keep: string;
  /** With `1 in n`: keep or leave out together all events that share this field's value. */
  readonly by?: string | undefined;
  /** When it ends (ISO 8601); from then on it is as if it were not there. Absent: it stays. */
  readonly until?: string | undefined;
  /** Why it is there, and whom to ask. */
  readonly reason?: string | undefined;
  readonly owner?: string | undefined;
}

/** A derived metric: what is kept of which events, by which keys. */
export interface MetricDocument {
  readonly id: string;
  /** As others are to know it, by the rules of OpenTelemetry for instruments: `booking.requests`. */
  readonly name: string;
  /** What it is for. */
  readonly help?: string | undefined;
  /** Which events; empty: all. */
  readonly when: string;
  /** What is kept of them: a measure (`core/metrics/measures`). */
  readonly measure: string;
  /** The field that is measured; absent where events themselves are. */
  readonly of?: string | undefined;
  /** Up to four keys: a series is kept for each combination of their values. */
  readonly by?: readonly MetricKey[] | undefined;
  /** The unit, such as `s` or `By` (UCUM); absent: none. */
  readonly unit?: string | undefined;
  /** What is shown where nothing came: nothing, 0, or what came last; absent: nothing. */
  readonly empty?: EmptyValue | undefined;
  /** Most series; what is beyond them goes into one. Absent: 1,000. */
  readonly limit?: number | undefined;
  /** How long it is kept by the hour: `456d`, which it is where this is absent. */
  readonly keep?: string | undefined;
}

/** A field that a metric is kept by: its values as they are, its most frequent ones, or what a table says of them. */
export interface MetricKey {
  readonly field: string;
  /** Only so many values, those that come most; the others are one. */
  readonly top?: number | undefined;
  /** A lookup table, and its column that is taken instead of the value. */
  readonly table?: string | undefined;
  readonly column?: string | undefined;
}

/** A ranking of who or what contributes most. */
export interface RankingDocument {
  readonly id: string;
  readonly title: string;
  /** Of which events; empty: all. */
  readonly when: string;
  /** By up to four fields: their values together are who contributes. */
  readonly by: readonly string[];
  /** What they are ranked by: events, bytes as they arrived, or the sum of a field. */
  readonly measure: RankingMeasure;
  /** The field that is summed; absent where none is. */
  readonly of?: string | undefined;
}

/** A named set of overrides, switched on for a while by a person or a request. */
export interface PostureDocument {
  readonly id: string;
  readonly title: string;
  /** What it is for. */
  readonly reason?: string | undefined;
  /** Only for sources of this fleet; absent: for all. Tiers keep for longer whatever the fleet. */
  readonly fleet?: string | undefined;
  readonly overrides: readonly PostureOverride[];
}

/** One thing that is otherwise while a posture is on: what exclusions keep, for how long a tier keeps, or that its cap is lifted. */
export interface PostureOverride {
  /** `tier/exclusion`, `tier/*` for all of a tier, or `*` for all that there are; `keep` is then as in an exclusion. */
  readonly exclusion?: string | undefined;
  /** A tier; `keep` is then for how long it keeps at least. */
  readonly tier?: string | undefined;
  readonly keep?: string | undefined;
  /** Of a tier: it keeps what comes, whatever its cap. */
  readonly cap?: 'lifted' | undefined;
}

/** The tier, built in, that holds for an hour what no other tier keeps. */
export const passingTier = { id: 'passing', title: 'Passing', keep: 3_600_000 } as const;

/** The tier, built in, that holds for a week what steps rejected. */
export const rejectsTier = { id: 'rejects', title: 'Rejects', keep: 7 * 86_400_000 } as const;

/** The plan of an installation that has none yet: everything is kept for a week. */
export const firstPlan: PlanDocument = {
  plan: 1,
  pipelines: [],
  tiers: [{ id: 'rest', title: 'Everything', keep: '7d' }],
};

/** A step taken apart. */
export interface StepParts {
  readonly kind: string;
  readonly options: Readonly<Record<string, unknown>>;
  readonly when: string;
  readonly onFailure: OnFailure;
}

/** What may stand in a step beside what it does. */
export const besides: ReadonlySet<string> = new Set(['when', 'on-failure']);

/** The parts of a step; `kind` is empty when the step names none. */
export function stepParts(step: StepDocument): StepParts {
  const kind = Object.keys(step).find((key) => !besides.has(key)) ?? '';
  const options = step[kind];
  return {
    kind,
    options: typeof options === 'object' && options !== null ? (options as Readonly<Record<string, unknown>>) : {},
    when: typeof step.when === 'string' ? step.when : '',
    onFailure: onFailures.find((choice) => choice === step['on-failure']) ?? 'keep',
  };
}

/** A step put together again; parts at their defaults are left out. */
export function stepDocument(parts: StepParts): StepDocument {
  return {
    [parts.kind]: parts.options,
    ...(parts.when !== '' && { when: parts.when }),
    ...(parts.onFailure !== 'keep' && { 'on-failure': parts.onFailure }),
  };
}

const mostOneIn = 1_000_000;

/** Whether an exclusion may keep one in `n`. */
export function isSampleSize(n: number): boolean {
  return Number.isInteger(n) && n >= 2 && n <= mostOneIn;
}

/** How much of the events an exclusion keeps: 0 none, 1 all, n one in n; undefined when the text says neither. */
export function keptOneIn(keep: string): number | undefined {
  if (keep === 'none') return 0;
  if (keep === 'all') return 1;
  const share = /^1 in (\d+)$/.exec(keep);
  const n = Number(share?.[1]);
  return share && isSampleSize(n) ? n : undefined;
}
