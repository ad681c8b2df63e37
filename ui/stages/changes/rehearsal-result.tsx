'use client';

import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins, formatCoinsChange } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { PlanDocument } from '#core/plan/document.ts';
import type { MoneyRow, RehearsalAnswer } from '#core/rehearsal/rehearsal-answer.ts';
import { passingTier } from '#core/routing/built-in-tiers.ts';
import type { Leaving } from '../../data/answers.ts';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { whatGoes, whyItGoes } from '../../kit/leaving.ts';
import { percent } from '../../kit/times/times.ts';
import { partScreens } from '../../parts/index.ts';

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

interface Row {
  readonly title: string;
  readonly live: number;
  readonly draft: number;
  /** In coins. */
  readonly money?: MoneyRow | undefined;
}

/** Before and after, on recorded traffic of a day; or, with `of`, on all of some events, named so that "41 events …" reads on. */
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
  const aDay = of ? '' : ' a day';
  const saved = rehearsal.kept.live.bytes - rehearsal.kept.draft.bytes;
  const margin = rehearsal.error * rehearsal.arrived.bytes;
  const tiersKnown = [...plan.tiers, ...(live?.tiers ?? [])];
  const title = (id: string): string => tiersKnown.find((tier) => tier.id === id)?.title ?? id;
  const order = (id: string): number => tiersKnown.findIndex((tier) => tier.id === id);
  const tiers = [...rehearsal.tiers]
    .sort((a, b) => order(a.id) - order(b.id))
    .map((row): Row => ({ ...bytesOf(row), title: title(row.id), money: moneyOf(rehearsal.money?.tiers, row.id) }));
  const elsewhere = rehearsal.outcomes
    .filter(({ id }) => id !== 'kept')
    .map(
      (row): Row => ({
        ...bytesOf(row),
        title: outcomes[row.id] ?? row.id,
        money: moneyOf(rehearsal.money?.outcomes, row.id),
      }),
    );
  const sources = rehearsal.sources.filter(
    (row) =>
      Math.abs(row.liveParsed - row.draftParsed) > 0.001 ||
      Math.abs(row.live.bytes - row.draft.bytes) > 0.001 * rehearsal.arrived.bytes,
  );
  return (
    <div className="flex flex-col gap-4">
      <p className="text-[17px] leading-6">
        {saved === 0 ? 'Keeps the same volume' : saved > 0 ? 'Saves ' : 'Adds '}
        {saved !== 0 && <b className="font-[680]">{formatBytes(Math.abs(saved))}</b>}
        {saved !== 0 && margin > 0 && ` ± ${formatBytes(margin)}`}
        {aDay}; the share parsed goes from {percent(rehearsal.parsed.live)} to{' '}
        <b className="font-[680]">{percent(rehearsal.parsed.draft)}</b>.
      </p>
      {rehearsal.money && <MoneyOfRehearsal money={rehearsal.money} isOnce={of !== undefined} />}
      <p className="text-[12.5px] text-second">
        On {formatCount(rehearsal.taped)}{' '}
        {of ? `events ${of}` : `taped events that stand for ${formatCount(rehearsal.arrived.events)} of the last 24 h`},
        in {(rehearsal.tookMs / 1000).toFixed(1)} s.
      </p>
      {leaving.map((going) => (
        <p key={going.tier} className="border-l-2 border-danger pl-3">
          <b className="font-[650] text-danger">◆ {whatGoes(going)}</b> would be deleted 24 hours after publishing, as{' '}
          {whyItGoes(going)}.
        </p>
      ))}
      <Comparison heading={of ? 'kept' : 'Kept per day'} rows={tiers} money={rehearsal.money} />
      <Comparison heading="Not kept per day" rows={elsewhere} money={rehearsal.money} />
      {sources.length > 0 && (
        <DataTable
          name="rehearsed-sources"
          label="Sources, now and in the draft"
          columns={sourceColumns(aDay)}
          rows={sources}
          keyOf={({ id }) => id}
          isPlain
        />
      )}
      {partScreens.map(({ key, Rehearsed }) => Rehearsed && <Rehearsed key={key} rehearsal={rehearsal} />)}
      {rehearsal.failures.draft.length > 0 && <Failures failures={rehearsal.failures.draft} />}
    </div>
  );
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

type RehearsalMoney = RehearsalAnswer['money'];

function bytesOf({ live, draft }: RehearsalAnswer['tiers'][number]): Pick<Row, 'live' | 'draft'> {
  return { live: live.bytes, draft: draft.bytes };
}

function moneyOf(rows: readonly MoneyRow[] | undefined, id: string): MoneyRow | undefined {
  return rows?.find((row) => row.id === id);
}

/** What the change comes to in money: now, with the draft, and how sure that is. */
function MoneyOfRehearsal({
  money: { currency, live, draft, error },
  isOnce,
}: {
  readonly money: NonNullable<RehearsalMoney>;
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
          {error > 0 && ` ± ${amount(error)}`} {change > 0 && 'more '}
        </>
      )}
      {isOnce ? '' : ' per 30 days'}
      {change !== 0 && `: ${amount(draft)} instead of ${amount(live)}`}
      {!isOnce && ', once every tier is full'}.
    </p>
  );
}

function Comparison({
  heading,
  rows,
  money,
}: {
  readonly heading: string;
  readonly rows: readonly Row[];
  readonly money: RehearsalMoney;
}) {
  if (rows.length === 0) return null;
  return (
    <DataTable
      name="comparison"
      label={heading}
      columns={comparisonColumns(heading, money?.currency)}
      rows={rows}
      keyOf={({ title }) => title}
      isPlain
    />
  );
}

function comparisonColumns(heading: string, currency: Currency | undefined): readonly Column<Row>[] {
  const changeOf = ({ live, draft }: Row): number => draft - live;
  return [
    { id: 'title', title: heading, value: ({ title }) => title },
    {
      id: 'now',
      title: 'now',
      align: 'right',
      first: 'descending',
      value: ({ live }) => live,
      cell: ({ live }) => formatBytes(live),
    },
    {
      id: 'draft',
      title: 'draft',
      align: 'right',
      first: 'descending',
      value: ({ draft }) => draft,
      cell: ({ draft }) => formatBytes(draft),
    },
    {
      id: 'change',
      title: 'change',
      align: 'right',
      value: changeOf,
      cell: (row) => {
        const change = changeOf(row);
        const text = Math.abs(change) < 1 ? '0' : `${change < 0 ? '−' : '+'} ${formatBytes(Math.abs(change))}`;
        return (
          <>
            <span className="font-semibold">{text}</span>
            <MoneyChange row={row} currency={currency} />
          </>
        );
      },
    },
  ];
}

/** How much more or less a row costs with the draft; nothing where it costs the same, or has no price. */
function MoneyChange({ row: { money }, currency }: { readonly row: Row; readonly currency: Currency | undefined }) {
  const change = money ? money.draft - money.live : 0;
  if (!currency || change === 0) return null;
  return (
    <small className="block text-[12.5px] whitespace-nowrap text-second">{formatCoinsChange(change, currency)}</small>
  );
}

type SourceRow = RehearsalAnswer['sources'][number];

function sourceColumns(aDay: string): readonly Column<SourceRow>[] {
  return [
    { id: 'source', title: 'source', value: ({ id }) => id },
    {
      id: 'parsed',
      title: 'parsed',
      align: 'right',
      value: ({ draftParsed }) => draftParsed,
      cell: ({ liveParsed, draftParsed }) => (
        <>
          {percent(liveParsed)} → <b>{percent(draftParsed)}</b>
        </>
      ),
    },
    {
      id: 'kept',
      title: `kept${aDay}`,
      align: 'right',
      first: 'descending',
      value: ({ draft }) => draft.bytes,
      cell: ({ live, draft }) => (
        <>
          {formatBytes(live.bytes)} → <b>{formatBytes(draft.bytes)}</b>
        </>
      ),
    },
  ];
}
