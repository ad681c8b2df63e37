import * as costs from './costs.ts';
import * as demo from './demo.ts';
import * as health from './health.ts';
import * as metrics from './metrics.ts';
import * as overview from './overview.ts';
import * as plan from './plan.ts';
import * as rankings from './rankings.ts';
import * as search from './search.ts';
import * as shapes from './shapes.ts';
import * as sources from './sources.ts';
import * as suggestions from './suggestions.ts';
import * as switches from './switches.ts';
import * as usage from './usage.ts';

/** Everything that can be asked and done over the API, by its name. */
export const operations = {
  ...costs,
  ...demo,
  ...health,
  ...metrics,
  ...overview,
  ...plan,
  ...rankings,
  ...search,
  ...shapes,
  ...sources,
  ...suggestions,
  ...switches,
  ...usage,
};

export type OperationName = keyof typeof operations;
