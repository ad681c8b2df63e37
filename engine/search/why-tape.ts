import { minute } from '#core/events/time-units.ts';
import type { ComparedPeriods } from '#core/why/periods.ts';
import { chosenPeriods } from '#core/why/periods.ts';
import type { SampledPart } from '../workers/tasks/sampled-part.ts';
import { overTape, tapeStretch } from './over-tape.ts';
import type { SearchSetting } from './run-search.ts';
import { type Why, whyAnswer } from './why-answer.ts';
import type { WhyQuestion } from './why-question.ts';

/** Most taped records that are compared. */
const mostRecords = 32_000;
/** The time before and since a change that is compared, at most and at least (milliseconds). */
const longest = 180 * minute;
const shortest = 5 * minute;

/**
 * Compares the events on the tape directly before and since a change that the ledger found, with all fields that the live plan gives
 * them, kept or not. Undefined if the tape does not reach back far enough, or the events on it do not explain the change.
 */
export async function whyOnTape(
  setting: SearchSetting,
  question: WhyQuestion,
  first: Why,
  signal: AbortSignal,
): Promise<Why | undefined> {
  const times = timesOnTape(question, first);
  if (!times) return undefined;
  const { condition, measure, tape } = question;
  const { database, pools, fleets } = setting;
  const now = Date.now();
  const parts: SampledPart[] = [];
  const task = { ...{ kind: 'whyTape' as const, condition, times, measured: measure.fields, fleets, now }, ...tape };
  await overTape(
    { database, pools, now: times.since.to, from: times.before.at(-1)?.from ?? 0, mostRecords, signal },
    (lane, part) => pools.read(lane, { ...task, ...part }),
    (found) => parts.push(...found),
  );
  const explanation = await pools.read(0, {
    ...{ kind: 'whyCauses' as const, measure: question.measureText, parts, hasBegun: true, fleets, now },
  });
  if (explanation.verdict !== 'values') return undefined;
  const { unit, series, began, ended, form } = first;
  const figures = { ...series, figures: Float64Array.from(series.figures, (figure) => figure ?? 0) };
  const events = parts.reduce((sum, { batch }) => sum + batch.rows, 0);
  const of = parts.reduce((sum, { batch }) => batch.weight.reduce((all, weight) => all + weight, sum), 0);
  const isFound = began !== undefined && form !== 'chosen' && form !== 'none';
  const shift = isFound ? { began, form, reached: began, ...(ended !== undefined && { ended }) } : undefined;
  return whyAnswer(question, {
    ...{ explanation, times, shift, unit, events, of, basis: 'tape', tiersLeftOut: [] },
    series: { ...figures, events: figures.figures },
  });
}

/** Equally long times directly before and since a change; chosen windows as they are. Undefined if the tape does not have them. */
function timesOnTape({ beside }: WhyQuestion, { began, ended, times, verdict }: Why): ComparedPeriods | undefined {
  const reach = Date.now() - tapeStretch;
  if (verdict !== 'values' && verdict !== 'spread') return undefined;
  if (beside) return beside.from >= reach ? chosenPeriods(times.since, beside) : undefined;
  if (began === undefined) return undefined;
  const length = Math.min(longest, (ended ?? times.since.to) - began, began - reach);
  if (length < shortest) return undefined;
  return { since: { from: began, to: began + length }, before: [{ from: began - length, to: began }] };
}
