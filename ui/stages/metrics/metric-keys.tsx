'use client';

import { X } from 'lucide-react';
import { type UseFormReturn, useFieldArray } from 'react-hook-form';
import { formatCount } from '#core/events/units.ts';
import { mostKeys } from '#core/metrics/limits.ts';
import { keyName } from '#core/plan/parts/metrics/metric.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import type { MetricTrialAnswer } from '../../data/answers.ts';
import { useTables } from '../../data/tables.ts';
import { Select, type SelectOption } from '../../kit/select.tsx';
import { type KeyFields, keyFields, type MetricFields } from './metric-form.ts';
import { KeyValues } from './metric-trial.tsx';

/** Fields that every event has. */
const builtIn = ['source', 'emitter', 'severity', 'shape'];

/** Fields offered as keys. */
const mostOffered = 200;

/** The fields that may be a key beside those that are chosen, to choose from. */
export function freeKeys(
  fields: readonly FieldSummary[],
  chosen: readonly { readonly field: string }[],
): readonly SelectOption<string>[] {
  return [...new Set([...builtIn, ...fields.map(({ name }) => name)])]
    .filter((name) => !chosen.some(({ field }) => field === name))
    .slice(0, mostOffered)
    .map((name) => ({ value: name, title: name }));
}

/** The keys of a metric: each with how many values it has, and how they are taken. */
export function MetricKeys(props: {
  readonly form: UseFormReturn<MetricFields>;
  readonly fields: readonly FieldSummary[];
  readonly trial: MetricTrialAnswer | null;
}) {
  const { form, fields, trial } = props;
  const keys = useFieldArray({ control: form.control, name: 'by' });
  const chosen = form.watch('by');
  const names = freeKeys(fields, chosen);
  return (
    <fieldset className="min-w-0">
      <legend className="text-[12.5px] font-semibold text-second">Group by (up to four)</legend>
      <div className="mt-1 flex flex-col gap-1.5">
        {keys.fields.map((row, i) => {
          const key = chosen[i];
          return (
            key && (
              <KeyRow key={row.id} form={form} place={i} value={key} trial={trial} onRemove={() => keys.remove(i)} />
            )
          );
        })}
        {chosen.length < mostKeys && (
          <Select
            label="Add key"
            isLabelHidden
            value=""
            placeholder="add key"
            options={names}
            onChange={(field) => keys.append(keyFields({ field }))}
          />
        )}
      </div>
    </fieldset>
  );
}

function KeyRow(props: {
  readonly form: UseFormReturn<MetricFields>;
  readonly place: number;
  readonly value: KeyFields;
  readonly trial: MetricTrialAnswer | null;
  readonly onRemove: () => void;
}) {
  const { form, place, value, trial, onRemove } = props;
  const name = keyName({ field: value.field, column: value.column || undefined });
  const tried = trial?.keys.find((key) => key.name === name);
  const tables = Object.keys(useTables());
  return (
    <div className={`rounded-[5px] border bg-sheet px-2.5 py-1 ${tried?.isOpen ? 'border-mark' : 'border-hair'}`}>
      <div className="flex flex-wrap items-center gap-2">
        <span className="line flex-1 truncate font-semibold">{value.field}</span>
        {tried && (
          <span className={`text-[12.5px] ${tried.isOpen ? 'text-mark' : 'text-second'}`}>
            ≈ {formatCount(tried.values.likely)} values
          </span>
        )}
        {tables.length > 0 && (
          <Select
            label={`What stands for ${value.field}`}
            isLabelHidden
            value={value.table}
            options={[
              { value: '', title: 'as it is' },
              ...tables.map((table) => ({ value: table, title: `through ${table}` })),
            ]}
            onChange={(table) => {
              form.setValue(`by.${place}.table`, table, { shouldDirty: true });
              if (table === '') form.setValue(`by.${place}.column`, '', { shouldDirty: true });
              else form.setValue(`by.${place}.top`, '', { shouldDirty: true });
            }}
            className="text-[12.5px]"
          />
        )}
        {value.table !== '' && (
          <label className="text-[12.5px] text-second">
            column{' '}
            <input
              {...form.register(`by.${place}.column`)}
              aria-label={`Column that stands for ${value.field}`}
              autoComplete="off"
              className="line w-20 rounded-[3px] border border-hair bg-sheet px-1"
            />
          </label>
        )}
        <label className={`text-[12.5px] text-second ${value.table === '' ? '' : 'hidden'}`}>
          top{' '}
          <input
            {...form.register(`by.${place}.top`)}
            aria-label={`Only the top of ${value.field}`}
            placeholder="all"
            autoComplete="off"
            className="line w-12 rounded-[3px] border border-hair bg-sheet px-1"
          />
        </label>
        <button
          type="button"
          onClick={onRemove}
          aria-label={`Leave out ${value.field}`}
          className="text-second hover:text-ink"
        >
          <X size={14} aria-hidden="true" />
        </button>
      </div>
      <KeyValues tried={tried} />
    </div>
  );
}
