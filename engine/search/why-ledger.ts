import type { WhyAnswer } from '#core/answers/why.ts';
import { hour, minute } from '#core/events/time-units.ts';
import { beganWithin, type Onset } from '#core/why/onset.ts';
import { firstCounted } from '#store/events/shapes.ts';
import { retryRead } from '#store/retry-read.ts';
import { LedgerFigures } from './ledger-figures.ts';
import type { SearchSetting } from './run-search.ts';
import {
  conditionOfCause,
  type FoundChange,
  nothingToCompare,
  type Why,
  whyAnswer,
  withoutBands,
} from './why-answer.ts';
import { changeIn, periodsOf, type WhyQuestion, zeros } from './why-question.ts';

/** History is read by the hour. */
const width = hour;
/** How far around a change of the hour its minute is looked for (milliseconds). */
const reach = hour;

/** An answer from the ledger, and what it was made from; absent if there was too little to compare. */
export interface LedgerWhy {
  readonly why: Why;
  readonly found?: FoundChange;
}

/**
 * Explains a change from the ledger alone, which counts events as they arrive, kept or not, by source, tier, shape and severity. Times
 * older than a day are known to the hour.
 */
export async function whyFromLedger(
  setting: SearchSetting,
  question: WhyQuestion,
  { from, window }: { readonly from: number; readonly window: { readonly from: number; readonly to: number } },
): Promise<LedgerWhy> {
  const { condition, measure, beside } = question;
  const figures = new LedgerFigures(setting, measure, question.measureText);
  // Before the first event of all, nothing was counted.
  const counted = (await retryRead(() => firstCounted(setting.database))) ?? window.to;
  const series = await figures.series(condition, { from: Math.max(from, counted), to: window.to }, width);
  const about = { series, unit: unitOf(question), tiersLeftOut: [], basis: 'ledger' as const };
  const onset = changeIn(question, series, window);
  const precise = onset && (await precisely(figures, condition, onset));
  const times = periodsOf(question, window, precise, series);
  if (!times) return { why: nothingToCompare(window, about) };
  const explanation = await figures.explain(condition, times, onset !== undefined || beside !== undefined);
  const isChanged = explanation.verdict === 'values' || explanation.verdict === 'spread';
  const [first] = explanation.causes;
  const shift =
    isChanged && !beside && onset
      ? await precisely(figures, first ? conditionOfCause(first, condition) : condition, onset)
      : undefined;
  const events = series.events.reduce((sum, count) => sum + count, 0);
  const found = { ...about, explanation: withoutBands(explanation), times, shift, events, of: events };
  return { why: whyAnswer(question, found), found };
}

/** A change with the minute in which it began, as long as the ledger has minutes. */
async function precisely(figures: LedgerFigures, condition: string, onset: Onset): Promise<Onset> {
  const from = onset.began - reach;
  if (onset.form === 'ramp' || !figures.hasMinutes(from)) return onset;
  const close = await figures.series(condition, { from, to: onset.reached + reach + width }, minute);
  if (close.figures.length < 2) return onset;
  const values = zeros(close.figures);
  const began =
    close.start + beganWithin({ values, weights: new Float64Array(values.length).fill(1) }, onset.form) * minute;
  return { ...onset, began };
}

function unitOf({ measure: { shareOf, volume } }: WhyQuestion): WhyAnswer['unit'] {
  if (shareOf) return 'share';
  return volume === 'bytes' ? 'size' : 'count';
}
