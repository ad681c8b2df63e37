'use client';

import Link from 'next/link';
import { useMemo, useState } from 'react';
import { toast } from 'sonner';
import type { Currency } from '#core/costs/book/price-book.ts';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { CatalogueField } from '#core/fields/catalogue.ts';
import type { FieldUse } from '#core/plan/field-use.ts';
import type { StepDocument } from '#core/steps/step-document.ts';
import { usageDays } from '#core/usage/usage.ts';
import type { CatalogueAnswer, PricedField, UsageByNameAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { type Column, DataTable } from '../../kit/data-table.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { percent } from '../../kit/times/times.ts';

const types = ['number', 'text', 'flag'] as const;
/** Every field of the last day's events: its types, how many have it, its weight, who makes it and who reads it. */
export function FieldCatalogue() {
  const { data, error, isLoading } = useQuestion('catalogue', {});
  const { data: usage } = useQuestion('usageByName', { kind: 'field' }, 60_000);
  const [wanted, setWanted] = useState('');
  const fields = data?.fields.filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase())) ?? [];
  const columns = useMemo(() => (data ? columnsFor(data, usage) : []), [data, usage]);
  return (
    <section aria-label="Field catalogue">
      <TextField
        label="Find field"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
        className="mb-2 w-[240px]"
      />
      {error && <Problem>{error.message}</Problem>}
      {isLoading && <p className="py-2 text-second">Running the plan on the tape of the last 24 h …</p>}
      {data && (
        <DataTable
          name="fields"
          label="Fields"
          columns={columns}
          rows={fields}
          keyOf={({ name }) => name}
          sorted={{ by: 'weight', way: 'descending' }}
        />
      )}
    </section>
  );
}

function columnsFor(
  { events, fields, makers, readers, currency }: CatalogueAnswer,
  usage: UsageByNameAnswer | undefined,
): readonly Column<PricedField>[] {
  const heaviest = Math.max(1, ...fields.map(({ bytes }) => bytes));
  const usesOf = (uses: readonly FieldUse[], { name }: CatalogueField) => uses.filter((use) => use.field === name);
  return [
    {
      id: 'field',
      title: 'field',
      value: ({ name }) => name,
      cell: ({ name }) => <span className="line">{name}</span>,
    },
    {
      id: 'types',
      title: 'types',
      value: (field) => seenTypes(field).join(', '),
      cell: (field) => <Types field={field} />,
    },
    {
      id: 'events',
      title: 'events with it',
      align: 'right',
      first: 'descending',
      value: (field) => (events > 0 ? field.events / events : 0),
      cell: (field) => percent(events > 0 ? field.events / events : 0),
    },
    {
      id: 'distinct',
      title: 'distinct values',
      align: 'right',
      first: 'descending',
      value: ({ distinct }) => distinct,
      cell: ({ distinct }) => formatCount(distinct),
    },
    {
      id: 'weight',
      title: 'bytes per day',
      width: 150,
      first: 'descending',
      value: ({ bytes }) => bytes,
      cell: ({ bytes }) => (
        <span className="flex items-center gap-2">
          <span aria-hidden="true" className="h-2.5 bg-d3" style={{ width: `${(64 * bytes) / heaviest}px` }} />
          <span className="whitespace-nowrap text-[12px] text-second">{formatBytes(bytes)}</span>
        </span>
      ),
    },
    ...(currency ? [moneyColumn(currency)] : []),
    {
      id: 'values',
      title: 'values',
      value: ({ samples }) => samples.slice(0, 3).join(' · '),
      cell: ({ samples }) => (
        <span className="line block max-w-[190px] truncate text-second" title={samples.join('\n')}>
          {samples.slice(0, 3).join(' · ')}
        </span>
      ),
    },
    {
      id: 'made',
      title: 'made by',
      value: (field) => usesOf(makers, field)[0]?.title ?? null,
      cell: (field) => <UsesOr uses={usesOf(makers, field)} none="from the source" />,
    },
    {
      id: 'read',
      title: 'used by',
      value: (field) => usesOf(readers, field)[0]?.title ?? null,
      cell: (field) => <UsesOr uses={usesOf(readers, field)} none="nothing in the plan" />,
    },
    ...(usage ? [usageColumn(usage)] : []),
    { id: 'actions', title: '', isPicture: true, value: () => null, cell: ({ name }) => <Actions field={name} /> },
  ];
}

/** How often questions used a field in the last 30 days. */
function usageColumn({ things }: UsageByNameAnswer): Column<PricedField> {
  const times = new Map(things.map((thing) => [thing.name, thing.times]));
  const timesOf = ({ name }: PricedField): number => times.get(name.toLowerCase()) ?? 0;
  return {
    id: 'reads',
    title: `reads, ${usageDays} d`,
    align: 'right',
    first: 'descending',
    room: 1_150,
    value: timesOf,
    cell: (field) => formatCount(timesOf(field)),
  };
}

/** What receiving and storing a field costs. */
function moneyColumn(currency: Currency): Column<PricedField> {
  return {
    id: 'money',
    title: 'cost per 30 days',
    align: 'right',
    first: 'descending',
    value: ({ coins }) => coins / 10 ** currency.digits,
    cell: ({ coins }) => formatCoins(coins, currency),
  };
}

function seenTypes(field: CatalogueField): readonly (typeof types)[number][] {
  return types.filter((type) => field.types[type] > 0);
}

function Types({ field }: { readonly field: CatalogueField }) {
  const seen = seenTypes(field);
  if (seen.length <= 1) return <span className="text-second">{seen.join('')}</span>;
  return (
    <span className="font-semibold text-caution" title={conflictText(field)}>
      ▲ {seen.join(', ')}
      <small className="block font-normal">{conflictText(field)}</small>
    </span>
  );
}

function UsesOr({ uses, none }: { readonly uses: readonly FieldUse[]; readonly none: string }) {
  return (
    <span className="text-[12.5px]">
      {uses.length === 0 ? <span className="text-second">{none}</span> : <Uses uses={uses} />}
    </span>
  );
}

/** Which sources send which type. */
function conflictText({ sources }: CatalogueField): string {
  return types
    .flatMap((type) => {
      const names = sources.filter(([, counts]) => counts[type] > 0).map(([source]) => source);
      return names.length > 0 ? [`${type} from ${names.slice(0, 3).join(', ')}`] : [];
    })
    .join('; ');
}

function Uses({ uses }: { readonly uses: readonly FieldUse[] }) {
  const [first] = uses;
  if (!first) return null;
  const more = uses.length - 1;
  const text = `${first.title}${more > 0 ? ` and ${more} more` : ''}`;
  const title = uses.map((use) => use.title).join('\n');
  return first.pipeline ? (
    <Link
      href={`/parsing/${first.pipeline}${first.step ? `?step=${first.step}` : ''}`}
      className="text-mark hover:underline"
      title={title}
    >
      {text}
    </Link>
  ) : (
    <span title={title}>{text}</span>
  );
}

/** Takes a field out, or converts it, in the pipeline for all sources that the draft keeps for such tidying. */
function Actions({ field }: { readonly field: string }) {
  const { change } = useDraft();
  const add = async (step: StepDocument, done: string): Promise<void> => {
    await change((before) => {
      const tidy = before.pipelines.find(({ id }) => id === 'tidy');
      const others = before.pipelines.filter(({ id }) => id !== 'tidy');
      const steps = [...(tidy?.steps ?? []), step];
      return {
        ...before,
        pipelines: [...others, { id: 'tidy', title: 'Tidying of fields', when: '', ...tidy, steps }],
      };
    });
    toast(done);
  };
  return (
    <span className="flex justify-end">
      <Button
        look="quiet"
        className="px-1! text-[12px]"
        onClick={() => void add({ remove: { fields: [field] } }, `The draft takes ${field} out of all events.`)}
      >
        Remove
      </Button>
      <Button
        look="quiet"
        className="px-1! text-[12px]"
        onClick={() =>
          void add(
            { convert: { field, to: 'number' } },
            `The draft makes ${field} a number; choose another type in the pipeline “Tidying of fields”.`,
          )
        }
      >
        Convert
      </Button>
    </span>
  );
}
