import type { Answers } from '#core/answers/index.ts';
import type { OperationName } from '#core/operations/index.ts';
import { arrivals } from './arrivals.ts';
import { caps } from './caps.ts';
import * as costs from './costs.ts';
import * as demo from './demo.ts';
import * as draft from './draft.ts';
import { files } from './files.ts';
import type { Handler, StreamAnswer } from './handler.ts';
import * as health from './health.ts';
import * as metricExpressions from './metric-expression.ts';
import * as metrics from './metrics.ts';
import * as overview from './overview.ts';
import * as plan from './plan.ts';
import * as quarantine from './quarantine.ts';
import * as rankings from './rankings.ts';
import * as records from './records.ts';
import * as savedSearches from './saved-searches.ts';
import * as search from './search.ts';
import * as shapes from './shapes.ts';
import * as sources from './sources.ts';
import { suggestions } from './suggestions.ts';
import * as switchTokens from './switch-tokens.ts';
import * as switches from './switches.ts';
import * as tables from './tables.ts';
import * as tape from './tape.ts';
import * as trials from './trials.ts';
import * as upload from './upload.ts';

const all = {
  arrivals,
  caps,
  files,
  suggestions,
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
  ...switchTokens,
};

/** What an operation answers: as the API's description says it, or as a stream; of changes it is not told. */
type Answered<Name extends OperationName> = Name extends keyof Answers ? Answers[Name] | StreamAnswer : object | null;

/** What carries each operation out. */
export const handlers: { readonly [Name in OperationName]: Handler<Answered<Name>> } = all;
