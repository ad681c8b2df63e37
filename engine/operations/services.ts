import type { Database } from '#store/database.ts';
import type { ArrivalsHub } from '../arrivals/arrivals-hub.ts';
import type { EngineConfig } from '../base/config.ts';
import type { Log } from '../base/log.ts';
import type { Changes } from '../cluster/changes.ts';
import type { Costs } from '../costs/costs.ts';
import type { DemoTraffic } from '../demo/demo-traffic.ts';
import type { HealthRegistry } from '../health/registry.ts';
import type { IntakeQueue } from '../intake/queue.ts';
import type { Measures } from '../measures/measures.ts';
import type { PlanHolder } from '../plan/live-plan.ts';
import type { PlanStatistics } from '../plan/plan-statistics.ts';
import type { PlanSwitches } from '../plan/plan-switches.ts';
import type { Rewinds } from '../reprocessing/rewind.ts';
import type { HeaderCache } from '../search/header-cache.ts';
import type { KnownFields } from '../search/known-fields.ts';
import type { PostureAdditions } from '../search/posture-additions.ts';
import type { TapedFields } from '../search/taped-fields.ts';
import type { ShapeCatalogue } from '../shapes/shape-catalogue.ts';
import type { ReadCaps } from '../shapes/standing-caps.ts';
import type { SourceBounds } from '../sources/source-bounds.ts';
import type { SourceDirectory } from '../sources/source-directory.ts';
import type { UsageRecorder } from '../usage/usage-recorder.ts';
import type { ClockGuard } from '../watches/clock-guard.ts';
import type { DiskWatch } from '../watches/disk-watch.ts';
import type { LookupTables } from '../workers/lookup-tables.ts';
import type { Pools } from '../workers/pools.ts';
import type { StatusCache } from './attention.ts';
import type { KnownSuggestions } from './explore/known-suggestions.ts';
import type { LastDay } from './last-day.ts';

/** The parts of the engine that operations use. */
export interface OperationServices {
  readonly database: Database;
  readonly pools: Pools;
  readonly headers: HeaderCache;
  readonly knownFields: KnownFields;
  readonly plan: PlanHolder;
  readonly directory: SourceDirectory;
  readonly measures: Measures;
  readonly health: HealthRegistry;
  readonly statistics: PlanStatistics;
  readonly changes: Changes;
  readonly queue: IntakeQueue;
  readonly lookups: LookupTables;
  readonly bounds: SourceBounds;
  readonly rewinds: Rewinds;
  readonly shapes: ShapeCatalogue;
  readonly switches: PlanSwitches;
  readonly arrivals: ArrivalsHub;
  readonly clock: Pick<ClockGuard, 'leapAt'>;
  readonly disk: Pick<DiskWatch, 'free' | 'fullSince' | 'isFull'>;
  readonly demo: Pick<DemoTraffic, 'problem'>;
  readonly config: EngineConfig;
  /** The key with which masked values are hashed, hexadecimal. */
  readonly maskKey: string;
  readonly costs: Costs;
  readonly tapedFields: TapedFields;
  /** What postures add. */
  readonly additions: PostureAdditions;
  readonly caps: ReadCaps;
  readonly lastDay: LastDay;
  readonly status: StatusCache;
  readonly suggestions: KnownSuggestions;
  readonly usage: UsageRecorder;
  readonly log: Log;
}
