'use client';

import Link from 'next/link';
import type { ReactNode } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoinsChange } from '#core/costs/format-coins.ts';
import { formatBytes } from '#core/events/units.ts';
import type { Bands } from '#core/rehearsal/bands.ts';
import type { MoneyRow, RehearsalAnswer, RehearsalRow, RehearsalShape } from '#core/rehearsal/rehearsal-answer.ts';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { percent } from '../../kit/times/times.ts';

/** A row of a comparison: bytes kept by the live plan and by the draft. */
export interface ComparisonRow {
  readonly id: string;
  readonly title: string;
  readonly live: number;
  readonly draft: number;
  readonly bands: Bands;
  /** In coins. */
  readonly money?: MoneyRow | undefined;
}

/** The rows of an answer as they are compared, with what they cost where that is known. */
export function comparisonRow(row: RehearsalRow, title: string, money?: readonly MoneyRow[]): ComparisonRow {
  const { id, live, draft, bands } = row;
  return { id, title, live: live.bytes, draft: draft.bytes, bands, money: money?.find((other) => other.id === id) };
}

/** Bytes with the live plan beside those with the draft. */
export function Comparison(props: {
  readonly heading: string;
  readonly rows: readonly ComparisonRow[];
  readonly currency: Currency | undefined;
  /** How the title of a row looks, where it is more than a text. */
  readonly look?: (row: ComparisonRow) => ReactNode;
}) {
  if (props.rows.length === 0) return null;
  return (
    <DataTable
      name="comparison"
      label={props.heading}
      columns={comparisonColumns(props.heading, props.currency, props.look)}
      rows={props.rows}
      keyOf={({ id }) => id}
      isPlain
    />
  );
}

function comparisonColumns(
  heading: string,
  currency: Currency | undefined,
  look?: (row: ComparisonRow) => ReactNode,
): readonly Column<ComparisonRow>[] {
  const changeOf = ({ live, draft }: ComparisonRow): number => draft - live;
  return [
    { id: 'title', title: heading, value: ({ title }) => title, ...(look && { cell: look }) },
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
      cell: ({ draft, bands }) => (
        <>
          {formatBytes(draft)}
          <Band bytes={bands.draft} />
        </>
      ),
    },
    {
      id: 'change',
      title: 'change',
      align: 'right',
      value: changeOf,
      cell: (row) => (
        <>
          <span className="font-semibold">{changeInWords(changeOf(row))}</span>
          {changeOf(row) !== 0 && <Band bytes={row.bands.change} />}
          <MoneyChange row={row} currency={currency} />
        </>
      ),
    },
  ];
}

function changeInWords(change: number): string {
  return Math.abs(change) < 1 ? '0' : `${change < 0 ? '−' : '+'} ${formatBytes(Math.abs(change))}`;
}

/** Half of a 95 % band, under the figure that it is of. */
function Band({ bytes }: { readonly bytes: number }) {
  if (bytes < 1) return null;
  return <small className="block text-[12.5px] whitespace-nowrap text-second">± {formatBytes(bytes)}</small>;
}

/** How much more or less a row costs with the draft; nothing where it costs the same, or has no price. */
function MoneyChange({
  row: { money },
  currency,
}: {
  readonly row: ComparisonRow;
  readonly currency: Currency | undefined;
}) {
  const change = money ? money.draft - money.live : 0;
  if (!currency || change === 0) return null;
  return (
    <small className="block text-[12.5px] whitespace-nowrap text-second">{formatCoinsChange(change, currency)}</small>
  );
}

/** What is kept of the shapes of which the draft keeps something else. */
export function RehearsedShapes({
  heading,
  rehearsal: { shapes, money },
}: {
  readonly heading: string;
  readonly rehearsal: RehearsalAnswer;
}) {
  return (
    <Comparison
      heading={heading}
      rows={shapes.map((row) => comparisonRow(row, titleOf(row), money?.shapes))}
      currency={money?.currency}
      look={({ id, title }) => (
        <Link
          href={`/explore?view=shapes&w=-1d&shape=${id}`}
          className="block max-w-[110px] truncate font-mono text-[12.5px]"
          title={title}
        >
          {title}
        </Link>
      )}
    />
  );
}

function titleOf({ id, line }: RehearsalShape): string {
  return line === '' ? id : line;
}

type SourceRow = RehearsalAnswer['sources'][number];

/** The sources of which the draft parses or keeps something else. */
export function RehearsedSources({ rehearsal, aDay }: { readonly rehearsal: RehearsalAnswer; readonly aDay: string }) {
  const rows = rehearsal.sources.filter(
    (row) =>
      Math.abs(row.liveParsed - row.draftParsed) > 0.001 ||
      Math.abs(row.live.bytes - row.draft.bytes) > 0.001 * rehearsal.arrived.bytes,
  );
  if (rows.length === 0) return null;
  return (
    <DataTable
      name="rehearsed-sources"
      label="Sources, now and in the draft"
      columns={sourceColumns(aDay, rehearsal.money)}
      rows={rows}
      keyOf={({ id }) => id}
      isPlain
    />
  );
}

function sourceColumns(aDay: string, money: RehearsalAnswer['money']): readonly Column<SourceRow>[] {
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
      cell: (row) => (
        <>
          {formatBytes(row.live.bytes)} → <b>{formatBytes(row.draft.bytes)}</b>
          <Band bytes={row.bands.draft} />
          <MoneyChange row={comparisonRow(row, row.id, money?.sources)} currency={money?.currency} />
        </>
      ),
    },
  ];
}
