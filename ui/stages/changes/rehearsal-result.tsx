'use client';

import { useState } from 'react';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { passingTier } from '#core/routing/built-in-tiers.ts';
import type { Leaving } from '../../data/answers.ts';
import { Choice } from '../../kit/choice.tsx';
import { whatGoes, whyItGoes } from '../../kit/leaving.ts';
import { percent } from '../../kit/times/times.ts';
import { partScreens } from '../../parts/index.ts';
import { ChangedEvents } from './changed-events.tsx';
import { FailedTests } from './failed-tests.tsx';
import { Comparison, comparisonRow, RehearsedShapes, RehearsedSources, type VolumeUnit } from './rehearsal-tables.tsx';
import { RehearsedCaps } from './rehearsed-caps.tsx';
import { RehearsedFields, RehearsedReaders } from './rehearsed-readers.tsx';

const outcomes: Readonly<Record<string, string>> = {
  excluded: 'Excluded',
  'sampled-out': 'Sampled out',
  passing: passingTier.title,
  rejected: 'Rejected',
  discarded: 'Discarded',
  expired: 'Expired on arrival',
  overflowed: 'Past a cap',
  lost: 'Lost',
};

const volumeUnits = [
  { value: 'bytes', title: 'Bytes' },
  { value: 'events', title: 'Events' },
] as const;

/** Before and after, on recorded traffic; or, with `of`, on all of some events, named so that "41 events …" reads on. */
export function RehearsalResult(props: {
  readonly rehearsal: RehearsalAnswer;
  readonly plan: PlanDocument;
  readonly of?: string;
  /** The live plan, for the titles of tiers that the draft does not have. */
  readonly live?: PlanDocument | undefined;
  /** Stored events that go a day after the draft is published. */
  readonly leaving?: readonly Leaving[];
}) {
  const { rehearsal, plan, live, of, leaving = [] } = props;
  const aDay = of || rehearsal.span === 0 ? '' : ' a day';
  const saved = rehearsal.kept.live.bytes - rehearsal.kept.draft.bytes;
  const margin = rehearsal.kept.bands.change;
  const [before, after] = [percent(rehearsal.parsed.live), percent(rehearsal.parsed.draft)];
  const { money } = rehearsal;
  const [unit, setUnit] = useState<VolumeUnit>('bytes');
  const tiersKnown = [...plan.tiers, ...(live?.tiers ?? [])];
  const title = (id: string): string => tiersKnown.find((tier) => tier.id === id)?.title ?? id;
  const order = (id: string): number => tiersKnown.findIndex((tier) => tier.id === id);
  const tiers = [...rehearsal.tiers]
    .sort((a, b) => order(a.id) - order(b.id))
    .map((row) => comparisonRow(row, title(row.id), unit, money?.tiers));
  const elsewhere = rehearsal.outcomes
    .filter(({ id }) => id !== 'kept')
    .map((row) => comparisonRow(row, outcomes[row.id] ?? row.id, unit, money?.outcomes));
  const teams = rehearsal.teams.map((row) => comparisonRow(row, row.id, unit, money?.teams));
  const currency = money?.currency;
  return (
    <div className="flex flex-col gap-4">
      <p className="text-[17px] leading-6">
        {saved === 0 ? 'Keeps the same volume' : saved > 0 ? 'Saves ' : 'Adds '}
        {saved !== 0 && <b className="font-[680]">{formatBytes(Math.abs(saved))}</b>}
        {saved !== 0 && margin >= 1 && ` ± ${formatBytes(margin)}`}
        {aDay}; the share parsed {before === after ? 'stays at' : `goes from ${before} to`}{' '}
        <b className="font-[680]">{after}</b>.
      </p>
      {money && <MoneyOfRehearsal money={money} isOnce={aDay === ''} />}
      <Basis rehearsal={rehearsal} of={of} />
      {leaving.map((going) => (
        <p key={going.tier} className="border-l-2 border-danger pl-3">
          <b className="font-[650] text-danger">◆ {whatGoes(going)}</b> would be deleted 24 hours after publishing, as{' '}
          {whyItGoes(going)}.
        </p>
      ))}
      <FailedTests tests={rehearsal.failedTests} />
      <div>
        <Choice label="Volume in" value={unit} onChange={setUnit} options={volumeUnits} />
      </div>
      <Comparison heading={aDay ? 'Kept per day' : 'kept'} rows={tiers} unit={unit} currency={currency} />
      <Comparison heading={aDay ? 'Not kept per day' : 'not kept'} rows={elsewhere} unit={unit} currency={currency} />
      <RehearsedSources rehearsal={rehearsal} aDay={aDay} unit={unit} />
      <Comparison heading="Kept by team" rows={teams} unit={unit} currency={currency} />
      <RehearsedShapes heading="Kept by shape" rehearsal={rehearsal} unit={unit} />
      <RehearsedCaps caps={rehearsal.caps} draft={plan} title="Caps" />
      <RehearsedReaders rehearsal={rehearsal} />
      <RehearsedFields rehearsal={rehearsal} />
      {partScreens.map(({ key, Rehearsed }) => Rehearsed && <Rehearsed key={key} rehearsal={rehearsal} />)}
      {rehearsal.failures.draft.length > 0 && <Failures failures={rehearsal.failures.draft} />}
      <ChangedEvents events={rehearsal.changed} live={live} draft={plan} />
    </div>
  );
}

/** What the figures are based on, and what their bands cover. */
function Basis({ rehearsal, of }: { readonly rehearsal: RehearsalAnswer; readonly of: string | undefined }) {
  const { taped, arrived, from, to, span, days, leftOut, tookMs } = rehearsal;
  const read = `Based on ${formatCount(taped)} ${of ? `events ${of}` : 'recorded events'}`;
  const reach = formatDuration(Math.round((to - from) / 60_000) * 60);
  return (
    <p className="text-[12.5px] text-second">
      {read}
      {!of && span < 2 && ` that represent ${formatCount(arrived.events)} of the last ${span === 1 ? '24 h' : reach}`}
      {!of && span >= 2 && ` of the last 24 h, with the mean volume of the last ${span} full days`}; took{' '}
      {(tookMs / 1000).toFixed(1)} s.
      {!of && ` ± is a 95 % band. ${whatBandsSay(span, days)}`}
      {leftOut.length > 0 && ` Without ${leftOut.join(', ')}: none of their events arrived in the last 24 h.`}
    </p>
  );
}

function whatBandsSay(span: number, days: number): string {
  if (span === 0) return 'It covers sampling only.';
  if (days < 3) return 'It covers sampling only; day-to-day variation is included after three full days of data.';
  return `It is for the daily mean of the next seven days, estimated from the last ${days} days.`;
}

/** Why events would still fail, most frequent first. */
function Failures({ failures }: { readonly failures: RehearsalAnswer['failures']['draft'] }) {
  return (
    <div>
      <h2>Events that would still fail</h2>
      <ul className="text-[12.5px]">
        {failures.slice(0, 6).map(([reason, count]) => (
          <li key={reason} className="flex justify-between gap-3 border-t border-hair py-1">
            <span>{reason}</span>
            <b>{formatCount(count)}</b>
          </li>
        ))}
      </ul>
    </div>
  );
}

/** What the change comes to in money: now, with the draft, and how sure that is. */
function MoneyOfRehearsal({
  money: { currency, live, draft, bands },
  isOnce,
}: {
  readonly money: NonNullable<RehearsalAnswer['money']>;
  /** Of events that come once; else of a month. */
  readonly isOnce: boolean;
}) {
  const change = draft - live;
  const amount = (coins: number): string => formatCoins(coins, currency);
  return (
    <p className="text-[17px] leading-6">
      {change === 0 ? (
        <>Costs the same, {amount(live)}</>
      ) : (
        <>
          {change < 0 ? 'Saves ' : 'Costs '}
          <b className="font-[680]">{amount(Math.abs(change))}</b>
          {bands.change > 0 && ` ± ${amount(bands.change)}`} {change > 0 && 'more '}
        </>
      )}
      {isOnce ? '' : ' per 30 days'}
      {change !== 0 && `: ${amount(draft)} instead of ${amount(live)}`}
      {!isOnce && ', once every tier is full'}.
    </p>
  );
}
