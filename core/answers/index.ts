import type { RehearsalAnswer } from '../rehearsal/rehearsal-answer.ts';
import type { ArrivalsFrame } from './arrivals.ts';
import type { CapsAnswer } from './caps.ts';
import type { CostMonthAnswer, CostsAnswer, PricesAnswer, RetentionCostAnswer } from './costs.ts';
import type { DemoAnswer } from './demo.ts';
import type { MetricAnswer, MetricExpressionAnswer, MetricsAnswer, MetricTrialAnswer } from './metrics.ts';
import type { CourseAnswer, OverviewAnswer } from './overview.ts';
import type {
  DiscardedAnswer,
  DraftAnswer,
  GracesAnswer,
  PlanAnswer,
  RevisionsAnswer,
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
import type { EmittersAnswer, FilesAnswer, SourceAnswer, SourcesAnswer, TapeAnswer } from './sources.ts';
import type { SuggestionsAnswer } from './suggestions.ts';
import type { SwitchesAnswer, SwitchTokensAnswer } from './switches.ts';

/** What operations answer, by their names. The API's description is made of it (`npm run answers`). */
export interface Answers {
  readonly arrivals: ArrivalsFrame;
  readonly audit: AuditAnswer;
  readonly caps: CapsAnswer;
  readonly catalogue: CatalogueAnswer;
  readonly costMonth: CostMonthAnswer;
  readonly costs: CostsAnswer;
  readonly course: CourseAnswer;
  readonly demo: DemoAnswer;
  readonly discardedDrafts: DiscardedAnswer;
  readonly draft: DraftAnswer | null;
  readonly emitterVolumes: EmittersAnswer;
  readonly event: EventAnswer;
  readonly files: FilesAnswer;
  readonly graces: GracesAnswer;
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
  readonly rehearseDraft: RehearsalAnswer;
  readonly retentionCost: RetentionCostAnswer;
  readonly revisions: RevisionsAnswer;
  readonly routing: RoutingAnswer;
  readonly savedSearches: SavedSearchesAnswer;
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
  readonly tape: TapeAnswer;
  readonly tryMetric: MetricTrialAnswer;
  readonly tryPrices: CostMonthAnswer;
  readonly volume: VolumeAnswer;
  readonly whyEmpty: WhyEmptyAnswer;
}
