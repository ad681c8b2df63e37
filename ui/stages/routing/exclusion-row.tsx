'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes } from '#core/events/units.ts';
import type { ExclusionDocument } from '#core/plan/parts/tiers/tiers-shape.ts';
import { isSampleSize, keptOneIn } from '#core/routing/kept-share.ts';
import type { PricedAmount } from '#core/routing/volume-sums.ts';
import type { ExclusionVolume, SwitchedExclusionView } from '../../data/answers.ts';
import { restoreExclusion } from '../../data/switches.ts';
import { Button } from '../../kit/button.tsx';
import type { ShareMode } from '../../kit/share-choice.tsx';
import { modeOf, ShareChoice } from '../../kit/share-choice.tsx';
import { FaultText } from '../../kit/text-field.tsx';
import { dayAndMinute } from '../../kit/times/times.ts';
import { ExclusionSwitch } from './exclusion-switch.tsx';
import { sampleSizeFault } from './tier-form.ts';

interface Props {
  readonly exclusion: ExclusionDocument;
  /** The tier that it is in. */
  readonly tier: string;
  /** What its condition matched in the last day, and what of it was not kept; undefined where it is not live yet. */
  readonly measured: ExclusionVolume | undefined;
  /** Whether the live plan has it just so. */
  readonly isLive: boolean;
  /** That it keeps something else for a while. */
  readonly switched: SwitchedExclusionView | undefined;
  /** What it would take away in a day, where that was rehearsed, and the coins that saves in a month. */
  readonly rehearsed: PricedAmount | undefined;
  /** Of coins; undefined where nothing has a price. */
  readonly currency: Currency | undefined;
  readonly onChange: (exclusion: ExclusionDocument | undefined) => void;
  readonly onEdit: () => void;
}

/** An exclusion in one line: keep none, 1 in n, or all, and what it takes away. `onChange` with undefined takes it out. */
export function ExclusionRow(props: Props) {
  const { exclusion } = props;
  const isOver = exclusion.until !== undefined && Date.parse(exclusion.until) <= Date.now();
  const oneIn = keptOneIn(exclusion.keep) ?? 1;
  const [n, setN] = useState(oneIn > 1 ? oneIn : 10);
  const mode = modeOf(oneIn);
  const canBeSwitched = props.isLive && !props.switched && mode !== 'all' && !isOver;
  const set = (next: ShareMode, count = n): void =>
    props.onChange({ ...exclusion, keep: next === 'sample' ? `1 in ${count}` : next });
  return (
    <div className="mt-2 flex flex-wrap items-center gap-3 text-[12.5px]">
      <span className="text-second">keep</span>
      <ShareChoice
        label={`How much of ${exclusion.title} to keep`}
        mode={mode}
        oneIn={oneIn}
        n={n}
        isWrong={!isSampleSize(n)}
        onMode={(next) => set(next)}
        onN={(next) => {
          setN(next);
          if (isSampleSize(next)) set('sample', next);
        }}
      />
      {mode === 'sample' && !isSampleSize(n) && <FaultText text={`${sampleSizeFault} 1 in ${oneIn} stands.`} />}
      <span className="text-second">of</span>
      <b className="max-w-[330px] truncate font-[650]" title={exclusion.title}>
        {exclusion.title}
      </b>
      <code className="line truncate text-second">{exclusion.when}</code>
      {exclusion.by && <span className="text-second">together by {exclusion.by}</span>}
      <span className={mode === 'all' || isOver ? 'text-second' : ''}>
        {isOver ? 'all are kept' : effectOf(mode, props)}
      </span>
      {exclusion.until && (
        <span className={isOver ? 'text-caution' : 'text-second'}>
          {isOver ? '▲ ended' : 'until'} {dayAndMinute(Date.parse(exclusion.until))}
        </span>
      )}
      {props.isLive && props.measured?.matched.events === 0 && <b className="text-caution">▲ no matches in 24 h</b>}
      {(exclusion.reason || exclusion.owner) && (
        <span className="text-second">{[exclusion.reason, exclusion.owner].filter(Boolean).join(' · ')}</span>
      )}
      {props.switched && <Switched {...props} switched={props.switched} />}
      {canBeSwitched && (
        <ExclusionSwitch
          tier={props.tier}
          exclusion={exclusion.id}
          title={exclusion.title}
          removed={inAnHour(props.measured)}
          currency={props.currency}
        />
      )}
      <Button
        look="quiet"
        className="px-1! py-0! text-[12.5px]"
        aria-label={`Edit ${exclusion.title}`}
        onClick={props.onEdit}
      >
        Edit
      </Button>
      <button
        type="button"
        onClick={() => props.onChange(undefined)}
        aria-label={`Take out ${exclusion.title}`}
        className="text-second hover:text-danger"
      >
        <X size={14} aria-hidden="true" />
      </button>
    </div>
  );
}

/** Volume dropped per hour and the cost of keeping it (coins), averaged over the last day or since the exclusion began. */
function inAnHour(measured: ExclusionVolume | undefined): PricedAmount {
  const { events, bytes } = measured?.removed ?? { events: 0, bytes: 0 };
  const hours = measured?.since ? Math.min(24, Math.max(1 / 60, (Date.now() - measured.since) / 3_600_000)) : 24;
  return { events: events / hours, bytes: bytes / hours, coins: (measured?.saves ?? 0) / (30 * hours) };
}

/** What it does in a day: as measured, or as rehearsed, or as it follows from what it matches; and the money of a month. */
function effectOf(
  mode: ShareMode,
  { measured, isLive, rehearsed, currency }: Pick<Props, 'measured' | 'isLive' | 'rehearsed' | 'currency'>,
): string {
  const money = (coins: number, word = 'saves '): string =>
    currency && coins !== 0 ? `, ${word}${formatCoins(coins, currency)} per 30 days` : '';
  // Figures of less than a day are not extrapolated.
  const since = measured?.since ?? null;
  const span = since === null ? ' a day' : ` since ${dayAndMinute(since)}`;
  const perMonth = (coins: number, word?: string): string => (since === null ? money(coins, word) : '');
  if (mode === 'all')
    return measured && measured.matched.bytes > 0
      ? `off; dropping all would save ${formatBytes(measured.matched.bytes)}${span}${perMonth(measured.wouldSave, '')}`
      : 'off';
  if (isLive && measured)
    return formatBytes(measured.removed.bytes) === formatBytes(measured.matched.bytes)
      ? `− ${formatBytes(measured.removed.bytes)}${span}${perMonth(measured.saves)}`
      : `− ${formatBytes(measured.removed.bytes)}${span}, of ${formatBytes(measured.matched.bytes)}${perMonth(measured.saves)}`;
  if (rehearsed) return `− ${formatBytes(rehearsed.bytes)} a day, as rehearsed${money(rehearsed.coins)}`;
  if (mode === 'none' && measured && measured.matched.bytes > 0)
    return `would save ${formatBytes(measured.matched.bytes)}${span}${perMonth(measured.wouldSave, '')}`;
  return 'rehearse to see its effect';
}

/** That it keeps something else for a while, and the way back. */
function Switched(props: Pick<Props, 'exclusion' | 'tier'> & { readonly switched: SwitchedExclusionView }) {
  const { exclusion } = props;
  return (
    <span className="text-caution">
      ▲ keeps {props.switched.keep} until {dayAndMinute(props.switched.until)}
      <Button
        look="quiet"
        className="py-0! text-[12.5px]"
        onClick={() => void restoreExclusion(props.tier, exclusion.id)}
      >
        Switch back
      </Button>
    </span>
  );
}
