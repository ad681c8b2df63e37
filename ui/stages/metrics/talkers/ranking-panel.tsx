'use client';

import { X } from 'lucide-react';
import { useState } from 'react';
import { type UseFormReturn, useFieldArray } from 'react-hook-form';
import { formatCount } from '#core/events/units.ts';
import { mostKeys } from '#core/metrics/limits.ts';
import { freeId } from '#core/plan/free-id.ts';
import { readyRankings } from '#core/plan/parts/rankings/ranking.ts';
import type { RankingDocument } from '#core/plan/parts/rankings/rankings-shape.ts';
import { rankingMeasures } from '#core/plan/parts/rankings/rankings-shape.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import type { MetricTrialAnswer } from '../../../data/answers.ts';
import { type Base, useDraft } from '../../../data/draft.ts';
import { useKnownFields } from '../../../data/known-fields.ts';
import { ConditionEditor } from '../../../editors/condition-editor.tsx';
import { Button } from '../../../kit/button.tsx';
import { CustomInput, Form, SelectInput, TextInput } from '../../../kit/form.tsx';
import { Section } from '../../../kit/section.tsx';
import { Select } from '../../../kit/select.tsx';
import { percent } from '../../../kit/times/times.ts';
import { amountInWords } from '../../../parts/rankings/amount-in-words.ts';
import { freeKeys } from '../metric-keys.tsx';
import { KeyValues, useMetricTrial } from '../metric-trial.tsx';
import { type RankingFields, rankingFields, rankingOf, rankingShape, triedAs } from './ranking-form.ts';

const measures = [
  { value: 'events', title: 'number of events' },
  { value: 'bytes', title: 'bytes' },
  { value: 'sum', title: 'sum of a field' },
];

/** Makes a ranking, or changes one. It goes into the draft when it is confirmed. */
export function RankingPanel(props: {
  readonly ranking?: RankingDocument | undefined;
  /** What a new one begins with. */
  readonly start: Partial<RankingDocument>;
  readonly onClose: () => void;
}) {
  const { ranking, start, onClose } = props;
  const { plan, change, base } = useDraft();
  const fields = useKnownFields();
  const [seen] = useState<Base | undefined>(base);
  const known = [...readyRankings, ...(plan?.rankings ?? [])];
  const others = known.filter(({ id }) => id !== ranking?.id).map(({ title }) => title.toLowerCase());
  const save = async (filled: RankingFields): Promise<void> => {
    await change((before) => {
      const rankings = before.rankings ?? [];
      if (ranking)
        return {
          ...before,
          rankings: rankings.map((one) => (one.id === ranking.id ? rankingOf(ranking.id, filled) : one)),
        };
      const id = freeId(
        filled.title,
        [...readyRankings, ...rankings].map((one) => one.id),
      );
      return { ...before, rankings: [...rankings, rankingOf(id, filled)] };
    }, ranking && seen);
    onClose();
  };
  const takeOut = (): Promise<void> =>
    change((before) => ({
      ...before,
      rankings: (before.rankings ?? []).filter(({ id }) => id !== ranking?.id),
    })).then(onClose);
  return (
    <Form<RankingFields>
      label={ranking ? `Ranking ${ranking.title}` : 'New ranking'}
      shape={rankingShape(others)}
      start={rankingFields(ranking ?? start)}
      onSend={save}
      submit="Add to draft"
      beside={
        ranking && (
          <Button look="danger" onClick={() => void takeOut()}>
            Remove
          </Button>
        )
      }
    >
      {(form) => <RankingInputs form={form} fields={fields} />}
    </Form>
  );
}

/** Two steps: whom to rank, with who that would be; then by what, of which events, under which title. */
function RankingInputs(props: {
  readonly form: UseFormReturn<RankingFields>;
  readonly fields: readonly FieldSummary[];
}) {
  const { form, fields } = props;
  const filled = form.watch();
  const tried = triedAs(filled);
  const trial = useMetricTrial(tried);
  const hasKeys = filled.by.some(({ field }) => field.trim() !== '');
  return (
    <>
      <RankedKeys form={form} fields={fields} trial={trial} />
      {hasKeys && (
        <>
          <div className="flex items-start gap-3">
            <SelectInput name="measure" label="Ranked by" options={measures} />
            {filled.measure === 'sum' && (
              <TextInput name="of" label="of field" mono placeholder="amount" className="flex-1" />
            )}
          </div>
          <CustomInput
            name="when"
            label="Events"
            render={(value, onChange) => (
              <ConditionEditor label="Events" value={value} fields={fields} onChange={onChange} />
            )}
          />
          {tried && !trial && <p className="text-[12.5px] text-second">Reading the tape of the last 24 h …</p>}
          {tried && trial && <TriedRanking trial={trial} measure={filled.measure} />}
          <TextInput name="title" label="Title" placeholder="Busiest users" />
        </>
      )}
    </>
  );
}

/** The fields by which it ranks, each with some of its values. */
function RankedKeys(props: {
  readonly form: UseFormReturn<RankingFields>;
  readonly fields: readonly FieldSummary[];
  readonly trial: MetricTrialAnswer | null;
}) {
  const { form, fields, trial } = props;
  const keys = useFieldArray({ control: form.control, name: 'by' });
  const chosen = form.watch('by');
  const names = freeKeys(fields, chosen);
  const fault = form.formState.errors.by?.message ?? form.formState.errors.by?.root?.message;
  return (
    <fieldset className="min-w-0">
      <legend className="text-[12.5px] font-semibold text-second">Fields to rank (up to four)</legend>
      <div className="mt-1 flex flex-col gap-1.5">
        {keys.fields.map((row, i) => {
          const field = chosen[i]?.field ?? '';
          const found = trial?.keys.find(({ name }) => name === field);
          return (
            <div key={row.id} className="rounded-[5px] border border-hair bg-sheet px-2.5 py-1">
              <div className="flex items-center gap-2">
                <span className="line flex-1 truncate font-semibold">{field}</span>
                {found && (
                  <span className="text-[12.5px] text-second">≈ {formatCount(found.values.likely)} values</span>
                )}
                <button
                  type="button"
                  onClick={() => keys.remove(i)}
                  aria-label={`Leave out ${field}`}
                  className="text-second hover:text-ink"
                >
                  <X size={14} aria-hidden="true" />
                </button>
              </div>
              <KeyValues tried={found} />
            </div>
          );
        })}
        {chosen.length < mostKeys && (
          <Select
            label="Add field"
            isLabelHidden
            value=""
            placeholder="add field"
            options={names}
            onChange={(field) => keys.append({ field })}
          />
        )}
        {fault && (
          <p role="alert" className="text-[12.5px] text-danger">
            {fault}
          </p>
        )}
      </div>
    </fieldset>
  );
}

/** Who would be first, by the tape of the last day. */
function TriedRanking({ trial, measure }: { readonly trial: MetricTrialAnswer; readonly measure: string }) {
  const { problems, lines, whole, records, events, series } = trial;
  const known = rankingMeasures.find((one) => one === measure) ?? 'events';
  if (problems.length > 0)
    return (
      <p role="status" className="text-[12.5px] text-second">
        {problems.map(({ message }) => message).join('; ')}
      </p>
    );
  if (records === 0)
    return (
      <p role="status" className="text-[12.5px] text-caution">
        ▲ No event on the tape of the last 24 h matches.
      </p>
    );
  return (
    <Section title={`On the tape of the last day · ${formatCount(events)} events`}>
      <table className="w-full text-[12.5px]">
        <caption className="sr-only">Top of the ranking</caption>
        <tbody>
          {lines.map(({ labels, all }) => (
            <tr key={labels.join('\u0000')} className="border-t border-hair">
              <td className="line max-w-[180px] truncate py-0.5">{labels.join(' · ')}</td>
              <td className="text-right tabular-nums">{amountInWords(all ?? 0, { measure: known })}</td>
              <td className="w-14 text-right text-second tabular-nums">
                {whole.all ? percent((all ?? 0) / whole.all) : ''}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <p className="mt-1 text-[12.5px] text-second">≈ {formatCount(series.likely)} in total over the last 24 h.</p>
    </Section>
  );
}
