'use client';

import Link from 'next/link';
import type { ReactNode } from 'react';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoinsChange } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { Bands } from '#core/rehearsal/bands.ts';
import type { MoneyRow, RehearsalAnswer, RehearsalRow, RehearsalShape } from '#core/rehearsal/rehearsal-answer.ts';
import type { Volume } from '#core/routing/volume.ts';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { percent } from '../../kit/times/times.ts';

/** What volume is compared in. */
export type VolumeUnit = keyof Volume;

/** A row of a comparison: what the live plan and the draft keep. */
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
export function comparisonRow(
  row: RehearsalRow,
  title: string,
  unit: VolumeUnit,
  money?: readonly MoneyRow[],
): ComparisonRow {
  const { id, live, draft } = row;
  const bands = unit === 'bytes' ? row.bands : row.eventBands;
  return { id, title, live: live[unit], draft: draft[unit], bands, money: money?.find((other) => other.id === id) };
}

/** A volume in bytes, or a number of events. */
export function volumeInWords(volume: number, unit: VolumeUnit): string {
  return unit === 'bytes' ? formatBytes(volume) : formatCount(volume);
}

/** Volume with the live plan beside that with the draft. */
export function Comparison(props: {
  readonly heading: string;
  readonly rows: readonly ComparisonRow[];
  readonly unit: VolumeUnit;
  readonly currency: Currency | undefined;
  /** How the title of a row looks, where it is more than a text. */
  readonly look?: (row: ComparisonRow) => ReactNode;
}) {
  if (props.rows.length === 0) return null;
  return (
    <DataTable
      name="comparison"
      label={props.heading}
      columns={comparisonColumns(props)}
      rows={props.rows}
      keyOf={({ id }) => id}
      isPlain
    />
  );
}

function comparisonColumns({
  heading,
  unit,
  currency,
  look,
}: Parameters<typeof Comparison>[0]): readonly Column<ComparisonRow>[] {
  const changeOf = ({ live, draft }: ComparisonRow): number => draft - live;
  return [
    { id: 'title', title: heading, value: ({ title }) => title, ...(look && { cell: look }) },
    {
      id: 'now',
      title: 'now',
      align: 'right',
      first: 'descending',
      value: ({ live }) => live,
      cell: ({ live }) => volumeInWords(live, unit),
    },
    {
      id: 'draft',
      title: 'draft',
      align: 'right',
      first: 'descending',
      value: ({ draft }) => draft,
      cell: ({ draft, bands }) => (
        <>
          {volumeInWords(draft, unit)}
          <Band half={bands.draft} unit={unit} />
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
          <span className="font-semibold">{changeInWords(changeOf(row), unit)}</span>
          {changeOf(row) !== 0 && <Band half={row.bands.change} unit={unit} />}
          <MoneyChange row={row} currency={currency} />
        </>
      ),
    },
  ];
}

function changeInWords(change: number, unit: VolumeUnit): string {
  return Math.abs(change) < 1 ? '0' : `${change < 0 ? '−' : '+'} ${volumeInWords(Math.abs(change), unit)}`;
}

/** Half of a 95 % band, under the figure that it is of. */
function Band({ half, unit }: { readonly half: number; readonly unit: VolumeUnit }) {
  if (half < 1) return null;
  return <small className="block text-[12.5px] whitespace-nowrap text-second">± {volumeInWords(half, unit)}</small>;
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
  unit,
  rehearsal: { shapes, money },
}: {
  readonly heading: string;
  readonly unit: VolumeUnit;
  readonly rehearsal: RehearsalAnswer;
}) {
  return (
    <Comparison
      heading={heading}
      rows={shapes.map((row) => comparisonRow(row, titleOf(row), unit, money?.shapes))}
      unit={unit}
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
export function RehearsedSources({
  rehearsal,
  aDay,
  unit,
}: {
  readonly rehearsal: RehearsalAnswer;
  readonly aDay: string;
  readonly unit: VolumeUnit;
}) {
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
      columns={sourceColumns(aDay, unit, rehearsal.money)}
      rows={rows}
      keyOf={({ id }) => id}
      isPlain
    />
  );
}

function sourceColumns(aDay: string, unit: VolumeUnit, money: RehearsalAnswer['money']): readonly Column<SourceRow>[] {
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
      value: ({ draft }) => draft[unit],
      cell: (row) => (
        <>
          {volumeInWords(row.live[unit], unit)} → <b>{volumeInWords(row.draft[unit], unit)}</b>
          <Band half={comparisonRow(row, row.id, unit).bands.draft} unit={unit} />
          <MoneyChange row={comparisonRow(row, row.id, unit, money?.sources)} currency={money?.currency} />
        </>
      ),
    },
  ];
}
