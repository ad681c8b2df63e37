import { type ObjectSchema, object, string } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { parseDuration } from '#core/events/units.ts';
import {
  type CapDocument,
  type ExclusionDocument,
  overflowChoices,
  type TierDocument,
} from '#core/plan/parts/tiers/tiers-shape.ts';
import { parseDayAmount } from '#core/routing/cap.ts';
import { isSampleSize, keptOneIn } from '#core/routing/kept-share.ts';
import { conditionShape } from '../../data/source-requests.ts';

/** What is typed of a tier. */
export interface TierFields {
  readonly title: string;
  readonly when: string;
  readonly keep: string;
  /** What it keeps in a day at most; empty: as much as comes. The others count where it is not. */
  readonly cap: string;
  readonly zone: string;
  /** `passing`, `sample`, `refuse`, or `tier` and an id. */
  readonly over: string;
}

/** The fields of a tier's cap. */
export function capFields(cap: CapDocument | undefined): Pick<TierFields, 'cap' | 'zone' | 'over'> {
  const over = cap?.over ?? 'passing';
  return { cap: cap?.day ?? '', zone: cap?.zone ?? 'UTC', over: typeof over === 'string' ? over : `tier ${over.tier}` };
}

/** A cap as its fields say; undefined for none. */
export function capOf({ cap, zone, over }: TierFields): CapDocument | undefined {
  if (cap.trim() === '') return undefined;
  const way = overflowChoices.find((choice) => choice === over) ?? { tier: over.slice('tier '.length) };
  return { day: cap.trim(), ...(zone !== 'UTC' && { zone }), over: way };
}

/** What is typed of an exclusion. `share` is one of `none`, `sample`, `all`; `n` counts for `sample`. */
export interface ExclusionFields {
  readonly title: string;
  readonly when: string;
  readonly share: string;
  readonly n: string;
  readonly by: string;
  /** When it ends: a time, or a duration from now; empty for never. */
  readonly until: string;
  readonly reason: string;
  readonly owner: string;
}

/** Shortest and longest time that a tier may keep events, in milliseconds. */
const shortestKeep = 60_000;
const longestKeep = 36_525 * 86_400_000;

function isKeep(text: string | undefined): boolean {
  const time = parseDuration(text ?? '');
  return !text || (time !== undefined && time >= shortestKeep && time <= longestKeep);
}

/** For how long a tier keeps by its title, such as `Incidents, 30 days`; undefined where the title says nothing, or just that. */
export function keepByTitle(title: string, keep: string): string | undefined {
  const days = /\b(\d{1,5}) ?(?:d|days?)\b/i.exec(title)?.[1];
  if (days === undefined) return undefined;
  const text = `${Number(days)}d`;
  return isKeep(text) && parseDuration(text) !== parseDuration(keep) ? text : undefined;
}

/** A title that none of the others has. */
function freeTitle(others: readonly { readonly title: string }[]) {
  const known = others.map(({ title }) => title.trim().toLowerCase());
  return string()
    .trim()
    .required('Enter a title.')
    .max(200, 'At most 200 characters.')
    .test('free', 'Another tier has this title.', (text) => !text || !known.includes(text.toLowerCase()));
}

/** What is asked of the fields of a tier, beside the others. */
export function tierShape(others: readonly TierDocument[]): ObjectSchema<TierFields> {
  return object({
    title: freeTitle(others),
    when: conditionShape.defined(),
    keep: string()
      .required('Enter a duration, such as 15d.')
      .test('keep', 'A duration of a minute or more, with its unit, such as 15d.', isKeep),
    cap: string()
      .defined()
      .test(
        'cap',
        'An amount such as 2 GB or 500000 events; empty for no cap.',
        (text) => !text?.trim() || parseDayAmount(text) !== undefined,
      ),
    zone: string().defined(),
    over: string().defined(),
  });
}

/** What is said where an exclusion would keep one in a number that it may not. */
export const sampleSizeFault = 'A whole number from 2 to 1,000,000.';

function isSampleText(text: string | undefined): boolean {
  return /^\d+$/.test(text ?? '') && isSampleSize(Number(text));
}

/** What is asked of the fields of an exclusion, beside the others of its tier. */
export function exclusionShape(others: readonly ExclusionDocument[], share: string): ObjectSchema<ExclusionFields> {
  return object({
    title: freeTitle(others),
    when: conditionShape.required('Enter a condition.'),
    share: string().defined(),
    n: share === 'sample' ? string().defined().test('n', sampleSizeFault, isSampleText) : string().defined(),
    by: string().defined().max(256, 'At most 256 characters.'),
    until: string()
      .defined()
      .test(
        'until',
        'A time such as 2026-11-27T18:00, or a duration from now such as 2h.',
        (text) => text === '' || endOf(text ?? '', Date.now()) !== undefined,
      ),
    reason: string().defined().max(500, 'At most 500 characters.'),
    owner: string().defined().max(64, 'At most 64 characters.'),
  });
}

/** When something ends that is written as a time or as a duration from now, in ISO 8601; undefined for neither. */
export function endOf(text: string, now: number): string | undefined {
  const duration = parseDuration(text.replace(/^for /, ''));
  const time = duration !== undefined && duration > 0 ? now + duration : parseTime(text, now);
  return time === undefined || time <= 0 || time > 8.64e15
    ? undefined
    : new Date(time).toISOString().replace(/\.\d+Z$/, 'Z');
}

/** An exclusion as its fields. */
export function exclusionFields(exclusion: ExclusionDocument | undefined): ExclusionFields {
  const oneIn = exclusion ? (keptOneIn(exclusion.keep) ?? 1) : 0;
  return {
    title: exclusion?.title ?? '',
    when: exclusion?.when ?? '',
    share: oneIn === 0 ? 'none' : oneIn === 1 ? 'all' : 'sample',
    n: String(oneIn > 1 ? oneIn : 10),
    by: exclusion?.by ?? '',
    until: exclusion?.until ?? '',
    reason: exclusion?.reason ?? '',
    owner: exclusion?.owner ?? '',
  };
}

/** An exclusion as its fields say. */
export function exclusionOf(id: string, fields: ExclusionFields): ExclusionDocument {
  const { title, when, share, n, by, until } = fields;
  const keep = share === 'sample' ? `1 in ${Number(n)}` : share;
  const [reason, owner] = [fields.reason.trim(), fields.owner.trim()];
  const ends = until === '' ? undefined : endOf(until, Date.now());
  return {
    ...{ id, title: title.trim(), when, keep },
    ...(share === 'sample' && by.trim() !== '' && { by: by.trim() }),
    ...(ends !== undefined && { until: ends }),
    ...(reason !== '' && { reason }),
    ...(owner !== '' && { owner }),
  };
}
