import type { Answers } from '#core/answers/index.ts';
import type { OperationName } from '#core/operations/index.ts';
import * as costs from './costs.ts';
import * as demo from './demo.ts';
import { arrivals } from './explore/arrivals.ts';
import * as savedSearches from './explore/saved-searches.ts';
import * as search from './explore/search.ts';
import * as shapes from './explore/shapes.ts';
import { decideSuggestion, suggestions } from './explore/suggestions.ts';
import { why } from './explore/why.ts';
import type { Handler, StreamAnswer } from './handler.ts';
import * as metricExpressions from './metric-expression.ts';
import * as metrics from './metrics.ts';
import * as overview from './overview.ts';
import { caps } from './plan/caps.ts';
import * as draft from './plan/draft.ts';
import * as plan from './plan/plan.ts';
import { revisionTimeline } from './plan/revision-timeline.ts';
import * as switchTokens from './plan/switch-tokens.ts';
import * as switches from './plan/switches.ts';
import * as trials from './plan/trials.ts';
import * as rankings from './rankings.ts';
import { files } from './sources/files.ts';
import * as health from './sources/health.ts';
import * as quarantine from './sources/quarantine.ts';
import * as records from './sources/records.ts';
import * as sources from './sources/sources.ts';
import * as tables from './sources/tables.ts';
import * as tape from './sources/tape.ts';
import * as upload from './sources/upload.ts';
import { usage, usageByName } from './usage.ts';

const all = {
  arrivals,
  caps,
  files,
  decideSuggestion,
  suggestions,
  why,
  ...costs,
  ...demo,
  ...metricExpressions,
  ...metrics,
  ...rankings,
  ...overview,
  ...sources,
  ...tape,
  ...upload,
  ...health,
  ...draft,
  ...plan,
  ...tables,
  ...search,
  ...savedSearches,
  ...records,
  ...trials,
  ...quarantine,
  ...shapes,
  ...switches,
  usage,
  usageByName,
  revisionTimeline,
  ...switchTokens,
};

/** What an operation answers: as the API's description says it, or as a stream; of changes it is not declared. */
type Answered<Name extends OperationName> = Name extends keyof Answers ? Answers[Name] | StreamAnswer : object | null;

/** What carries each operation out. */
export const handlers: { readonly [Name in OperationName]: Handler<Answered<Name>> } = all;
