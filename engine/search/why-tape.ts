import { minute } from '#core/events/time-units.ts';
import { type ComparedPeriods, chosenPeriods } from '#core/why/periods.ts';
import type { SampledPart } from '../workers/tasks/sampled-part.ts';
import { overTape, tapeStretch } from './over-tape.ts';
import type { SearchSetting } from './run-search.ts';
import { type FoundChange, type Why, whyAnswer } from './why-answer.ts';
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
  first: FoundChange,
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
  const events = parts.reduce((sum, { batch }) => sum + batch.rows, 0);
  const of = parts.reduce((sum, { batch }) => batch.weight.reduce((all, weight) => all + weight, sum), 0);
  return whyAnswer(question, { ...first, explanation, times, events, of, basis: 'tape' });
}

/** Equally long times directly before and since a change; chosen windows as they are. Undefined if the tape does not have them. */
function timesOnTape({ beside }: WhyQuestion, { shift, times, explanation }: FoundChange): ComparedPeriods | undefined {
  const reach = Date.now() - tapeStretch;
  if (explanation.verdict !== 'values' && explanation.verdict !== 'spread') return undefined;
  if (beside) return beside.from >= reach ? chosenPeriods(times.since, beside) : undefined;
  if (!shift) return undefined;
  const { began, ended } = shift;
  const length = Math.min(longest, (ended ?? times.since.to) - began, began - reach);
  if (length < shortest) return undefined;
  return { since: { from: began, to: began + length }, before: [{ from: began - length, to: began }] };
}
