import Link from 'next/link';
import type { UseFormReturn } from 'react-hook-form';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { TierDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import type { CapUnit } from '#core/routing/cap.ts';
import { overflowKinds } from '#core/routing/overflow/index.ts';
import type { CapsAnswer, CapView } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { SelectInput, TextInput } from '../../kit/form.tsx';
import { formatShown, percent } from '../../kit/times/times.ts';
import type { TierFields } from './tier-form.ts';

/** How the caps of live tiers stand, asked again from time to time. */
export function useCaps(): CapsAnswer | undefined {
  return useQuestion('caps', {}, 15_000).data;
}

function written(unit: CapUnit, amount: number): string {
  return unit === 'bytes' ? formatBytes(amount) : `${formatCount(amount)} events`;
}

/** The fields of a tier's cap, with what would suit it. */
export function CapFields(props: {
  readonly form: UseFormReturn<TierFields>;
  /** Those that stand further down. */
  readonly below: readonly TierDocument[];
  readonly suggestions: CapsAnswer['suggestions'][number] | undefined;
}) {
  const { form, below, suggestions } = props;
  const cap = form.watch('cap');
  const inEvents = /event/i.test(cap);
  const suggestion = inEvents ? suggestions?.events : suggestions?.bytes;
  const offered = suggestion && written(inEvents ? 'events' : 'bytes', suggestion.amount).replaceAll(',', '');
  return (
    <fieldset className="flex flex-col gap-2 border-t border-hair pt-2">
      <legend className="sr-only">Cap</legend>
      <div className="flex items-start gap-3">
        <TextInput
          name="cap"
          label="Daily cap"
          mono
          className="w-52 min-w-0"
          placeholder="no cap"
          hint="such as 2 GB or 500000 events"
        />
        {offered && offered !== cap && (
          <Button
            className="mt-5 shrink-0 whitespace-nowrap"
            onClick={() => form.setValue('cap', offered, { shouldValidate: true, shouldDirty: true })}
          >
            Cap at {offered}
          </Button>
        )}
      </div>
      {suggestion && offered !== cap && (
        <p className="-mt-1 text-[12.5px] text-second">
          {offered} is {suggestion.reason}.
        </p>
      )}
      {cap.trim() !== '' && (
        <div className="grid grid-cols-2 gap-3">
          <SelectInput name="over" label="Events past the cap go" options={waysOn(below)} />
          <SelectInput name="zone" label="Day of" options={zones(form.watch('zone'))} />
        </div>
      )}
    </fieldset>
  );
}

function waysOn(below: readonly TierDocument[]): readonly { readonly value: string; readonly title: string }[] {
  return [...overflowKinds.values()].flatMap(({ kind, title }) =>
    kind === 'tier'
      ? below.map((tier) => ({ value: `tier ${tier.id}`, title: `to ${tier.title}` }))
      : [{ value: kind, title }],
  );
}

function zones(chosen: string): readonly { readonly value: string; readonly title: string }[] {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  return [...new Set(['UTC', here, chosen])]
    .filter((zone) => zone !== '')
    .map((zone) => ({ value: zone, title: zone }));
}

/** What of the day's allowance is used, and when it will be, on one line. */
export function CapLine({ view, currency }: { readonly view: CapView; readonly currency: Currency | undefined }) {
  const { unit, amount, kept, over, isLifted } = view;
  const share = kept[unit] / amount;
  const isMet = over.events > 0;
  return (
    <div className="mt-1 text-[12.5px] text-second">
      <div aria-hidden="true" className="mb-0.5 h-[5px] w-full max-w-[340px] bg-land">
        <div
          className={`h-full ${isMet ? 'bg-danger' : share >= 0.8 ? 'bg-caution' : 'bg-d4'}`}
          style={{ width: `${Math.min(1, share) * 100}%` }}
        />
      </div>
      {written(unit, kept[unit])} of today’s {written(unit, amount)}
      {isLifted ? ', lifted for now' : `: ${percent(share)}`}
      {!isLifted && (
        <>
          ; <Forecast view={view} />
          {currency && view.saves > 0 && `; saves ${formatCoins(view.saves, currency, true)} today`}
        </>
      )}
    </div>
  );
}

/** When the cap will be met, in words, with how sure that is. */
function Forecast({ view: { over, forecast, day, unit } }: { readonly view: CapView }) {
  if (over.events > 0)
    return (
      <b className="font-semibold text-danger">
        ◆ met: {formatCount(over.events)} events ({formatBytes(over.bytes)}) overflowed; it accepts events again at{' '}
        {formatShown(day.end, 'HH:mm')}
      </b>
    );
  if (!forecast) return <>no forecast for today yet</>;
  const { meets, byEnd } = forecast;
  if (!meets) return <>not expected to be met today: about {written(unit, byEnd.middle)} by its end</>;
  if (meets.middle === null)
    return <>unlikely to be met today; on a busy day by {formatShown(meets.earliest, 'HH:mm')}</>;
  return (
    <b className="font-semibold text-caution">
      ▲ met at about {formatShown(meets.middle, 'HH:mm')}, by past days between {formatShown(meets.earliest, 'HH:mm')}{' '}
      and {meets.latest === null ? 'not at all' : formatShown(meets.latest, 'HH:mm')}
    </b>
  );
}

/** What went past the cap today, by source and by shape, and where to look at it. */
export function PastCap({ view: { tier, over, sources, shapes, unit } }: { readonly view: CapView }) {
  if (over.events === 0) return null;
  const stored = { c: `overflow.of = ${tier}`, w: '-1d' };
  return (
    <section aria-label="Past the cap today" className="mt-4 border-t border-hair pt-2 text-[12.5px]">
      <h3 className="font-semibold text-second">Past the cap today</h3>
      <ul className="mt-1">
        {sources.map(({ source, ...amount }) => (
          <li key={source} className="flex justify-between gap-3">
            <span>{source}</span>
            <span className="text-second">{written(unit, amount[unit])}</span>
          </li>
        ))}
      </ul>
      {shapes.length > 0 && (
        <ul className="mt-1 border-t border-hair pt-1">
          {shapes.map(({ shape, sample, ...amount }) => (
            <li key={shape} className="flex justify-between gap-3">
              <Link
                href={`/explore?${new URLSearchParams({ view: 'shapes', w: '-1d', shape })}`}
                className="line min-w-0 truncate hover:text-mark"
              >
                {sample || 'other lines'}
              </Link>
              <span className="shrink-0 text-second">{written(unit, amount[unit])}</span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-1">
        Stored part:{' '}
        <Link href={`/explore?${new URLSearchParams(stored)}`} className="underline hover:text-mark">
          Show lines
        </Link>
        ,{' '}
        <Link
          href={`/explore?${new URLSearchParams({ ...stored, view: 'shapes' })}`}
          className="underline hover:text-mark"
        >
          Show shapes
        </Link>
      </p>
    </section>
  );
}
