import type { CapView } from '../answers/caps.ts';
import type { CostMonthAnswer } from '../answers/costs.ts';
import type { Attention } from '../answers/overview.ts';
import type { TimelinePoint } from '../answers/plan.ts';
import { formatCoins } from '../costs/format-coins.ts';
import { dayInWords, dayOf } from '../costs/month/calendar.ts';
import type { BudgetView } from '../costs/month/cost-month.ts';
import { day, hour } from '../events/time-units.ts';
import { formatBytes, formatCount, formatDuration } from '../events/units.ts';
import type { GroupView } from '../health/views.ts';
import type { GrownKey } from '../metrics/grown-key.ts';
import { amountOf, shareOf, type VolumeSum } from '../routing/volume-sums.ts';
import { leavesBand } from './revision-timeline.ts';

/** That the disk of the store is as full as it may be, since when, and with what is free there, in bytes. */
export function attentionFromDisk(free: number, since: number): Attention {
  return {
    kind: 'disk-full',
    level: 'danger',
    source: '',
    title: 'The disk of the store is nearly full',
    detail: 'no events are accepted until there is room; senders are asked to retry',
    figure: `${formatBytes(free)} free`,
    since,
  };
}

/** That the clock went ahead by so many milliseconds at once, for which nothing is deleted until then. */
export function attentionFromClock(leapt: number, heldUntil: number, now: number): Attention {
  return {
    kind: 'clock-ahead',
    level: 'caution',
    source: '',
    title: `The clock went ahead by ${formatDuration(leapt / 1_000)} at once`,
    detail: 'nothing is deleted for a day, in case it is wrong: correct it, or wait if nothing ran for that long',
    figure: `${formatDuration(Math.max(60, (heldUntil - now) / 1_000))} left`,
    since: heldUntil - day,
  };
}

/** Reports that the live revision kept more or less in an hour than predicted. */
export function attentionFromRevision(revision: number, point: TimelinePoint): readonly Attention[] {
  if (!leavesBand(point)) return [];
  const { start, predicted, measured, band } = point;
  const least = formatBytes(Math.max(0, predicted - band));
  return [
    {
      ...{ kind: 'prediction-missed', level: 'caution', source: '', revision },
      title: `Revision ${revision} keeps ${measured > predicted ? 'more' : 'less'} than predicted`,
      detail: `predicted for the last full hour: ${least} to ${formatBytes(predicted + band)}`,
      figure: formatBytes(measured),
      since: start,
    },
  ];
}

/** Metrics of which a key brings more values than there is room for. */
export function attentionFromMetrics(
  metrics: readonly { readonly id: string; readonly name: string; readonly limit: number; readonly grown: GrownKey }[],
): readonly Attention[] {
  return metrics.map(({ id, name, limit, grown: { key, since } }) => ({
    kind: 'series-limit',
    level: 'caution',
    source: '',
    metric: id,
    title: `${key} brings ${name} more series than it may have`,
    detail: `what is beyond ${formatCount(limit)} goes into one; leave the key out, keep its top, or raise the limit`,
    figure: `${formatCount(limit)} series`,
    since,
  }));
}

/**
 * What the ledger says of sources, from its hourly sums by source and parsed of the last two weeks: those whose lines
 * stopped fitting, and those that send much more than they did.
 */
export function attentionFromLedger(hours: readonly VolumeSum[], now: number): readonly Attention[] {
  const sources = [...new Set(hours.map((sum) => sum.source ?? ''))];
  const total = amountOf(hours.filter((sum) => sum.start >= now - day)).bytes;
  return sources.flatMap((source) => {
    const sums = hours.filter((sum) => sum.source === source);
    return [...failures(source, sums, now), ...jump(source, sums, total, now)];
  });
}

/** Share of unparsed events that matters, and how much above the past it has to be. */
const failureShare = 0.05;

function failures(source: string, own: readonly VolumeSum[], now: number): readonly Attention[] {
  const failedShare = (sums: readonly VolumeSum[]): number =>
    shareOf(amountOf(sums.filter((sum) => sum.parsed === false)).events, amountOf(sums).events);
  const today = own.filter((sum) => sum.start >= now - day);
  const present = failedShare(today);
  if (present === 1 && amountOf(today).events >= enoughToParse) return [neverParsed(source, today)];
  const starts = [...new Set(own.map((sum) => Math.floor(sum.start / hour) * hour))].sort((a, b) => a - b);
  const byHour = starts.map((start) => ({
    start,
    share: failedShare(own.filter((sum) => Math.floor(sum.start / hour) * hour === start)),
  }));
  const onset = onsetOf(byHour.map(({ share }) => share >= present / 3));
  const since = byHour[onset]?.start;
  if (present < failureShare || since === undefined || onset === 0) return [];
  const before = failedShare(own.filter((sum) => sum.start < since));
  if (present < before * 2) return [];
  return [
    {
      kind: 'parse-failures',
      level: 'caution',
      source,
      title: `${source} lines stopped fitting their template`,
      detail: `${Math.round(present * 100)} % end unparsed, ${before < 0.0005 ? 'none' : `${(before * 100).toFixed(1)} %`} did before`,
      figure: `${Math.round(present * 100)} %`,
      since,
    },
  ];
}

/** So many events a day are worth a pipeline. */
const enoughToParse = 100;

function neverParsed(source: string, today: readonly VolumeSum[]): Attention {
  return {
    kind: 'parse-failures',
    level: 'caution',
    source,
    title: `Nothing of ${source} becomes fields`,
    detail: `${formatCount(amountOf(today).events)} events in the last day, all kept as plain lines`,
    figure: '0 % parsed',
    since: Math.min(...today.map(({ start }) => start)),
  };
}

/** Index from which on nearly all entries are true. */
function onsetOf(flags: readonly boolean[]): number {
  let onset = flags.length;
  let misses = 0;
  for (let i = flags.length - 1; i >= 0; i--) {
    if (flags[i]) onset = i;
    else if (++misses > Math.max(1, (flags.length - i) / 10)) break;
  }
  return onset;
}

/** A rise counts when a source sends this many times what it did, and the rise is this share of everything. */
const jumpFactor = 1.6;
const jumpShare = 0.02;

function jump(source: string, own: readonly VolumeSum[], total: number, now: number): readonly Attention[] {
  const today = Math.floor(now / day);
  // The day on which it was first heard is no whole day.
  const firstDay = Math.floor(own.reduce((first, { start }) => Math.min(first, start), now) / day);
  const byDay = Array.from({ length: 14 }, (_, i) =>
    amountOf(own.filter(({ start }) => start >= (firstDay + 1) * day && Math.floor(start / day) === today - 14 + i)),
  );
  let best: { ratio: number; at: number; before: number; after: number } | undefined;
  for (let at = 2; at < byDay.length - 1; at++) {
    const before = mean(
      byDay
        .slice(0, at)
        .map(({ bytes }) => bytes)
        .filter((bytes) => bytes > 0),
    );
    const after = mean(byDay.slice(at).map(({ bytes }) => bytes));
    if (before > 0 && after / before > (best?.ratio ?? jumpFactor)) best = { ratio: after / before, at, before, after };
  }
  if (!best || best.after - best.before < total * jumpShare) return [];
  const since = jumpHour(own, firstDay + 1, today - 14 + best.at);
  const factor = best.ratio >= 10 ? Math.round(best.ratio) : Math.round(best.ratio * 10) / 10;
  return [
    {
      kind: 'volume-jump',
      level: 'caution',
      source,
      title: `${source} sends ${factor} × as much as before`,
      detail: `${megabytes(best.after)} a day instead of ${megabytes(best.before)}`,
      figure: `+ ${megabytes(best.after - best.before)}/d`,
      since,
    },
  ];
}

/** The hour of a day (in days) from which on a source sent more than in those hours of the days from `first` on before it. */
function jumpHour(own: readonly VolumeSum[], first: number, jumpDay: number): number {
  const sent = (start: number): number =>
    amountOf(own.filter((sum) => sum.start >= start && sum.start < start + hour)).bytes;
  for (let at = jumpDay * day; at < (jumpDay + 1) * day; at += hour) {
    const before = Array.from({ length: jumpDay - first }, (_, i) => sent(at - (i + 1) * day));
    if (sent(at) > jumpFactor * mean(before) && sent(at + hour) > 0) return at;
  }
  return jumpDay * day;
}

/** Surges of sources (see `surge.ts`) that are going on: what was reported of them, by source. */
export function attentionFromSurges(
  surges: readonly { readonly source: string; readonly since: number; readonly times: number; readonly text: string }[],
): readonly Attention[] {
  return surges.map(({ source, since, times, text }) => ({
    kind: 'volume-surge',
    level: 'danger',
    source,
    title: `${source} sends ${times >= 10 ? Math.round(times) : Math.round(times * 10) / 10} × as much as usual`,
    detail: text,
    figure: `× ${Math.round(times)}`,
    since,
  }));
}

function mean(values: readonly number[]): number {
  return values.length === 0 ? 0 : values.reduce((sum, value) => sum + value, 0) / values.length;
}

function megabytes(bytes: number): string {
  return bytes >= 1e9 ? `${(bytes / 1e9).toFixed(1)} GB` : `${(bytes / 1e6).toFixed(1)} MB`;
}

/** Deliveries that could not be stored and were set aside, by source. */
export function attentionFromQuarantine(
  counts: readonly {
    readonly source: string;
    readonly deliveries: number;
    readonly records: number;
    readonly last: number;
  }[],
): readonly Attention[] {
  return counts.map(({ source, deliveries, records, last }) => ({
    kind: 'set-aside',
    level: 'danger',
    source,
    title: `${formatCount(deliveries)} ${deliveries === 1 ? 'delivery' : 'deliveries'} of ${source} could not be stored`,
    detail: 'set aside as they came; they can be tried again under Parsing, Rejects',
    figure: `${formatCount(records)} records`,
    since: last,
  }));
}

/** From this share on a cap or a budget is reported. */
const nearlyMet = 0.8;

/** Caps that are met, or nearly. */
export function attentionFromCaps(
  caps: readonly Omit<CapView, 'saves'>[],
  titleOf: (tier: string) => string,
  now: number,
): readonly Attention[] {
  return caps.flatMap(
    ({ tier, unit, amount, isLifted, day: ofDay, kept, over, forecast, overSince }): readonly Attention[] => {
      const share = shareOf(kept[unit], amount);
      const isMet = over.events > 0;
      if (isLifted || (share < nearlyMet && !isMet)) return [];
      const written = (value: number): string => (unit === 'bytes' ? formatBytes(value) : formatCount(value));
      const ends = `its day ends ${new Date(ofDay.end).toISOString().slice(11, 16)} UTC`;
      const meets = forecast?.meets?.middle;
      const soon = meets
        ? `met at ${new Date(meets).toISOString().slice(11, 16)} UTC as it goes`
        : 'not met as it goes';
      return [
        {
          kind: isMet ? 'cap-met' : 'cap-near',
          level: isMet ? 'danger' : 'caution',
          source: '',
          tier,
          title: isMet ? `${titleOf(tier)} has met its cap for the day` : `${titleOf(tier)} nears its cap for the day`,
          detail: isMet
            ? `${formatCount(over.events)} events (${formatBytes(over.bytes)}) went another way; ${ends}`
            : `${soon}; ${ends}`,
          figure: `${written(kept[unit])} of ${written(amount)}`,
          since: overSince ?? now,
        },
      ];
    },
  );
}

/** Whether it is about money, which is looked at in Costs. */
export function isAboutBudget({ kind }: Attention): boolean {
  return kind === 'budget-near' || kind === 'budget-crossed';
}

/**
 * Budgets of the month that are crossed, nearly spent, or to be crossed as it goes: each once. That half is spent is reported on the
 * day on which it is: `now` in milliseconds.
 */
export function attentionFromBudgets(month: CostMonthAnswer, now: number): readonly Attention[] {
  const { currency, budgets } = month;
  if (!currency) return [];
  return budgets.flatMap((budget): readonly Attention[] => {
    const { team, fleet, tier, amount, spent, heading, crossedOn } = budget;
    const standing = statusCacheOf(budget, now);
    if (!standing) return [];
    const whose = team ?? fleet ?? tier;
    const isCrossed = spent >= amount;
    const end = heading === null ? '' : `; heading for ${formatCoins(heading, currency)} by the end of the month`;
    const when = crossedOn === null ? 'not crossed as it goes' : `crossed on ${dayInWords(crossedOn)}`;
    return [
      {
        kind: isCrossed ? 'budget-crossed' : 'budget-near',
        level: isCrossed ? 'danger' : 'caution',
        source: '',
        ...(tier !== null && { tier }),
        title: `The month's budget ${whose === null ? '' : `of ${whose} `}${standing}`,
        detail: `${when}${isCrossed || crossedOn === null ? '' : ' as it goes'}${end}`,
        figure: `${formatCoins(spent, currency)} of ${formatCoins(amount, currency)}`,
        since: isCrossed && crossedOn !== null ? Date.parse(crossedOn) : month.from,
      },
    ];
  });
}

/** What is to be said of a budget; undefined where nothing is. */
function statusCacheOf({ spent, amount, crossedOn, halfOn }: BudgetView, now: number): string | undefined {
  if (spent >= amount) return 'is spent';
  if (crossedOn !== null) return 'will not last';
  if (spent >= nearlyMet * amount) return 'is nearly spent';
  return halfOn !== null && dayOf(Date.parse(halfOn)) === dayOf(now) ? 'is half spent' : undefined;
}

/** Sources and emitters that fell silent, those with a common cause together. */
export function attentionFromHealth(
  silentSources: readonly { readonly source: string; readonly reason: string; readonly since: number }[],
  groups: readonly GroupView[],
): readonly Attention[] {
  const whole = new Set(silentSources.map(({ source }) => source));
  const open = groups.filter(({ members }) => members.some(({ source }) => !whole.has(source)));
  return [
    ...silentSources.map(
      ({ source, reason, since }): Attention => ({
        kind: 'silent-source',
        level: 'danger',
        source,
        title: `${source} has gone silent`,
        detail: reason,
        figure: 'silent',
        since,
      }),
    ),
    ...open.map(groupAttention),
  ];
}

function groupAttention({ at, members, causes }: GroupView): Attention {
  const [first] = members;
  const source = first?.source ?? '';
  const sources = new Set(members.map((member) => member.source));
  const [cause] = causes;
  const together = members.length > 1;
  const whose = sources.size === 1 ? `of ${source}` : `of ${sources.size} sources`;
  return {
    kind: 'silent-emitters',
    level: together ? 'danger' : 'caution',
    source,
    title: together
      ? `${members.length} emitters ${whose} fell silent together`
      : `${first?.emitter} of ${source} fell silent`,
    detail: cause
      ? `they share ${cause.trait} ${cause.value}: ${cause.silent} of ${cause.all} with it are silent, ${Math.round(cause.sure * 100)} % sure`
      : 'it shares nothing with others that fell silent',
    figure: together ? `${members.length} emitters` : '1 emitter',
    since: at,
  };
}
