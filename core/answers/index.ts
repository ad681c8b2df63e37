import type { HealthAnswer } from '../health/views.ts';
import type { RehearsalAnswer } from '../rehearsal/rehearsal-answer.ts';
import type { LookupAnswers } from '../steps/lookups.ts';
import type { ArrivalsFrame } from './arrivals.ts';
import type { CapsAnswer } from './caps.ts';
import type {
  MadeSourceAnswer,
  RetryAnswer,
  RewindAnswer,
  SavedTableAnswer,
  ScrubAnswer,
  TokenAnswer,
  UploadAnswer,
} from './commands.ts';
import type { CostMonthAnswer, CostsAnswer, PricesAnswer, RetentionCostAnswer, SavedPricesAnswer } from './costs.ts';
import type { DemoAnswer } from './demo.ts';
import type { MetricAnswer, MetricExpressionAnswer, MetricsAnswer, MetricTrialAnswer } from './metrics.ts';
import type { OverviewAnswer, StageFiguresAnswer } from './overview.ts';
import type {
  DiscardedAnswer,
  DraftAnswer,
  GracesAnswer,
  PlanAnswer,
  RevisionsAnswer,
  RevisionTimelineAnswer,
  StepsAnswer,
  TablesAnswer,
} from './plan.ts';
import type { RankingAnswer, RankingsAnswer } from './rankings.ts';
import type { MatchesAnswer, RoutingAnswer, ShadowsAnswer } from './routing.ts';
import type {
  AuditAnswer,
  CatalogueAnswer,
  EventAnswer,
  NamesAnswer,
  QuarantineAnswer,
  SavedSearchesAnswer,
  SearchAnswer,
  VolumeAnswer,
  WhyEmptyAnswer,
} from './search.ts';
import type { ShapeAnswer, ShapesAnswer } from './shapes.ts';
import type {
  DriftsAnswer,
  EmittersAnswer,
  FilesAnswer,
  FleetsAnswer,
  HeardAnswer,
  MaintenanceAnswer,
  SourceAnswer,
  SourcesAnswer,
  TapeAnswer,
} from './sources.ts';
import type { SuggestionsAnswer } from './suggestions.ts';
import type { SwitchesAnswer, SwitchTokensAnswer } from './switches.ts';
import type { UsageAnswer, UsageByNameAnswer } from './usage.ts';
import type { WhyAnswer } from './why.ts';

/** What operations answer, by their names. The API's description is made of it (`npm run answers`). */
export interface Answers {
  readonly addSwitchToken: TokenAnswer;
  readonly addToken: TokenAnswer;
  readonly arrivals: ArrivalsFrame;
  readonly audit: AuditAnswer;
  readonly caps: CapsAnswer;
  readonly catalogue: CatalogueAnswer;
  readonly costMonth: CostMonthAnswer;
  readonly costs: CostsAnswer;
  readonly stageFigures: StageFiguresAnswer;
  readonly demo: DemoAnswer;
  readonly discardedDrafts: DiscardedAnswer;
  readonly draft: DraftAnswer | null;
  readonly drift: DriftsAnswer;
  readonly emitterVolumes: EmittersAnswer;
  readonly event: EventAnswer;
  readonly fields: SearchAnswer;
  readonly files: FilesAnswer;
  readonly fleets: FleetsAnswer;
  readonly graces: GracesAnswer;
  readonly health: HealthAnswer;
  readonly heard: HeardAnswer;
  readonly lookups: LookupAnswers;
  readonly maintenance: MaintenanceAnswer;
  readonly makeSource: MadeSourceAnswer;
  readonly matches: MatchesAnswer;
  readonly metric: MetricAnswer;
  readonly metricExpression: MetricExpressionAnswer;
  readonly metrics: MetricsAnswer;
  readonly names: NamesAnswer;
  readonly overview: OverviewAnswer;
  readonly plan: PlanAnswer;
  readonly prices: PricesAnswer;
  readonly quarantine: QuarantineAnswer;
  readonly ranking: RankingAnswer;
  readonly rankings: RankingsAnswer;
  readonly rebaseDraft: DraftAnswer | null;
  readonly rehearseAgain: RehearsalAnswer;
  readonly rehearseDraft: RehearsalAnswer;
  readonly rehearseRejects: RehearsalAnswer;
  readonly restoreRevision: DraftAnswer | null;
  readonly retentionCost: RetentionCostAnswer;
  readonly retryRejects: RetryAnswer;
  readonly revisionTimeline: RevisionTimelineAnswer;
  readonly revisions: RevisionsAnswer;
  readonly rewind: RewindAnswer;
  readonly routing: RoutingAnswer;
  readonly saveDraft: DraftAnswer | null;
  readonly savedSearches: SavedSearchesAnswer;
  readonly savePrices: SavedPricesAnswer;
  readonly saveTable: SavedTableAnswer;
  readonly scrubTape: ScrubAnswer;
  readonly search: SearchAnswer;
  readonly shadows: ShadowsAnswer;
  readonly shape: ShapeAnswer;
  readonly shapes: ShapesAnswer;
  readonly showPrices: object | null;
  readonly source: SourceAnswer;
  readonly sources: SourcesAnswer;
  readonly steps: StepsAnswer;
  readonly suggestions: SuggestionsAnswer;
  readonly switches: SwitchesAnswer;
  readonly switchTokens: SwitchTokensAnswer;
  readonly tables: TablesAnswer;
  readonly takePlanText: DraftAnswer | null;
  readonly takeUpDraft: DraftAnswer | null;
  readonly tape: TapeAnswer;
  readonly tryMetric: MetricTrialAnswer;
  readonly tryPrices: CostMonthAnswer;
  readonly upload: UploadAnswer;
  readonly usage: UsageAnswer;
  readonly usageByName: UsageByNameAnswer;
  readonly volume: VolumeAnswer;
  readonly why: WhyAnswer;
  readonly whyEmpty: WhyEmptyAnswer;
}
