import { day } from '#core/events/time-units.ts';
import { formatDuration } from '#core/events/units.ts';
import { type Reading, type UsedKind, usageDays } from '#core/usage/usage.ts';
import type { UsageAnswer } from '../data/answers.ts';
import { useQuestion } from '../data/client.ts';
import { counted } from '../kit/counted.ts';
import { dayAndMinute } from '../kit/times/times.ts';

/** How often a thing was read in the last 30 days, and how old the oldest event was. */
export function ReadBy(props: { readonly kind: UsedKind; readonly name: string; readonly className?: string }) {
  const { kind, name, className = 'text-[12.5px] text-second' } = props;
  const { data } = useQuestion('usage', { kind, name }, 60_000);
  return data ? <p className={className}>{readByInWords(data)}</p> : null;
}

const words: Readonly<Record<Reading, readonly [one: string, many: string]>> = {
  search: ['search', 'searches'],
  summary: ['summary', 'summaries'],
  export: ['export', 'exports'],
  why: ['explanation', 'explanations'],
  metric: ['chart', 'charts'],
};

/** A sentence such as `Read by 14 searches and 2 exports in 30 days, last on 1 Dec 10:02. The oldest event was 3 d old.` */
export function readByInWords({ since, readings, oldestAge }: UsageAnswer): string {
  if (readings.length === 0) {
    if (since === null) return 'Nothing has been read yet. Searches, exports and charts are counted here.';
    const isWhole = Date.now() - since >= usageDays * day;
    return isWhole ? `Not read in ${usageDays} days.` : `Not read since ${dayAndMinute(since)}, when counting began.`;
  }
  const parts = readings.map(({ reading, times }) => counted(times, ...words[reading]));
  const last = Math.max(...readings.map(({ lastAt }) => lastAt));
  const oldest =
    oldestAge !== null && oldestAge > 0
      ? ` The oldest event was ${oldestAge < day ? 'less than a day' : formatDuration(Math.floor(oldestAge / day) * 86_400)} old.`
      : '';
  return `Read by ${listOf(parts)} in ${usageDays} days, last on ${dayAndMinute(last)}.${oldest}`;
}

function listOf(parts: readonly string[]): string {
  return parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} and ${parts.at(-1)}`;
}
