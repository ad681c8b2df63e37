'use client';

import Link from 'next/link';
import { useState } from 'react';
import { toast } from 'sonner';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { CatalogueField } from '#core/fields/catalogue.ts';
import type { StepDocument } from '#core/plan/document.ts';
import type { FieldUse } from '#core/plan/field-uses.ts';
import { useDraft } from '../../data/draft.ts';
import { useApi } from '../../data/use-api.ts';
import { Button } from '../../kit/button.tsx';
import { Problem } from '../../kit/section.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { percent } from '../../kit/times.ts';

interface CatalogueAnswer {
  readonly events: number;
  readonly fields: readonly CatalogueField[];
  readonly makers: readonly FieldUse[];
  readonly readers: readonly FieldUse[];
  readonly leftOut: number;
}

const types = ['number', 'text', 'flag'] as const;
const mostRows = 150;

/** Every field of the last day's events: its types, how many have it, its weight, who makes it and who reads it. */
export function FieldCatalogue() {
  const { data, error, isLoading } = useApi<CatalogueAnswer>('/api/catalogue');
  const [wanted, setWanted] = useState('');
  const heaviest = data?.fields[0]?.bytes ?? 1;
  const fields = data?.fields.filter(({ name }) => name.toLowerCase().includes(wanted.toLowerCase())) ?? [];
  return (
    <section aria-label="Field catalogue">
      <TextField
        label="Find a field"
        value={wanted}
        onChange={(event) => setWanted(event.target.value)}
        className="mb-2 w-[240px]"
      />
      {error && <Problem>{error.message}</Problem>}
      {isLoading && <p className="py-2 text-second">Running the plan over the tape of the last day …</p>}
      {data && (
        <table className="w-full">
          <thead>
            <tr className="border-b border-hair text-[12.5px]">
              <th scope="col">field</th>
              <th scope="col">types</th>
              <th scope="col" className="text-right">
                events with it
              </th>
              <th scope="col" className="text-right">
                different values
              </th>
              <th scope="col" className="w-[150px] pl-5">
                weight a day
              </th>
              <th scope="col" className="pl-3">
                values
              </th>
              <th scope="col">made by</th>
              <th scope="col">read by</th>
              <th scope="col" />
            </tr>
          </thead>
          <tbody>
            {fields.slice(0, mostRows).map((field) => (
              <FieldRow key={field.name} field={field} data={data} heaviest={heaviest} />
            ))}
          </tbody>
        </table>
      )}
      {fields.length > mostRows && (
        <p className="py-2 text-second">{formatCount(fields.length - mostRows)} lighter fields are not shown.</p>
      )}
    </section>
  );
}

function FieldRow({
  field,
  data,
  heaviest,
}: {
  readonly field: CatalogueField;
  readonly data: CatalogueAnswer;
  readonly heaviest: number;
}) {
  const makers = data.makers.filter((use) => use.field === field.name);
  const readers = data.readers.filter((use) => use.field === field.name);
  const seen = types.filter((type) => field.types[type] > 0);
  const conflict = seen.length > 1;
  return (
    <tr className="border-b border-hair align-baseline [&>td]:py-1">
      <td className="line pr-3">{field.name}</td>
      <td
        className={conflict ? 'font-semibold text-caution' : 'text-second'}
        title={conflict ? conflictText(field) : undefined}
      >
        {conflict && '▲ '}
        {seen.join(', ')}
        {conflict && <small className="block font-normal">{conflictText(field)}</small>}
      </td>
      <td className="text-right">{percent(data.events > 0 ? field.events / data.events : 0)}</td>
      <td className="text-right">{formatCount(field.distinct)}</td>
      <td className="pl-5">
        <span className="flex items-center gap-2">
          <span aria-hidden="true" className="h-2.5 bg-d3" style={{ width: `${(64 * field.bytes) / heaviest}px` }} />
          <span className="whitespace-nowrap text-[12px] text-second">{formatBytes(field.bytes)}</span>
        </span>
      </td>
      <td className="line max-w-[190px] truncate pl-3 text-second" title={field.samples.join('\n')}>
        {field.samples.slice(0, 3).join(' · ')}
      </td>
      <td className="text-[12.5px]">
        {makers.length === 0 ? <span className="text-second">as it arrives</span> : <Uses uses={makers} />}
      </td>
      <td className="text-[12.5px]">
        {readers.length === 0 ? <span className="text-second">nothing in the plan</span> : <Uses uses={readers} />}
      </td>
      <td className="text-right">
        <Actions field={field.name} />
      </td>
    </tr>
  );
}

/** Which sources send which type. */
function conflictText({ sources }: CatalogueField): string {
  return types
    .flatMap((type) => {
      const own = sources.filter(([, counts]) => counts[type] > 0).map(([source]) => source);
      return own.length > 0 ? [`${type} from ${own.slice(0, 3).join(', ')}`] : [];
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
