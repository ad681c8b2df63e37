'use client';

import { useEffect, useState } from 'react';
import { type UseFormReturn, useFieldArray } from 'react-hook-form';
import { usualLimit } from '#core/metrics/limits.ts';
import { measures } from '#core/metrics/measures/index.ts';
import { freeId } from '#core/plan/free-id.ts';
import { keyName } from '#core/plan/parts/metrics/metric.ts';
import type { MetricDocument } from '#core/plan/parts/metrics/metrics-shape.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import type { MetricTrialAnswer } from '../../data/answers.ts';
import { type Base, useDraft } from '../../data/draft.ts';
import { useKnownFields } from '../../data/known-fields.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { CustomInput, Form, SelectInput, TextInput } from '../../kit/form.tsx';
import { type MetricFields, metricFields, metricOf, metricShape, triedMetric } from './metric-form.ts';
import { MetricKeys } from './metric-keys.tsx';
import { refusalOf, TriedChart, TriedSeries, tryMetric, useMetricTrial } from './metric-trial.tsx';

const measureOptions = [...measures.values()].map(({ name, title }) => ({ value: name, title }));
const emptyOptions = [
  { value: 'none', title: 'nothing' },
  { value: 'zero', title: '0' },
  { value: 'last', title: 'last value' },
];

/** Makes a metric, or changes one. It goes into the draft when it is confirmed. */
export function MetricPanel(props: {
  readonly metric?: MetricDocument | undefined;
  /** What a new one begins with. */
  readonly start: Partial<MetricDocument>;
  readonly onClose: () => void;
}) {
  const { metric, start, onClose } = props;
  const { plan, change, base } = useDraft();
  const [seen] = useState<Base | undefined>(base);
  const fields = useKnownFields();
  const others = (plan?.metrics ?? []).filter(({ id }) => id !== metric?.id).map(({ name }) => name.toLowerCase());
  const save = async (filled: MetricFields): Promise<void> => {
    // What is on the screen may be of what was there a moment ago.
    const tried = triedMetric(filled);
    const refusal = tried && refusalOf(await tryMetric(tried), Number(filled.limit));
    if (refusal) throw new Error(refusal);
    await change((before) => {
      const known = before.metrics ?? [];
      if (metric)
        return { ...before, metrics: known.map((one) => (one.id === metric.id ? metricOf(metric.id, filled) : one)) };
      const id = freeId(
        filled.name,
        known.map((one) => one.id),
      );
      return { ...before, metrics: [...known, metricOf(id, filled)] };
    }, metric && seen);
    onClose();
  };
  const takeOut = (): Promise<void> =>
    change((before) => ({ ...before, metrics: (before.metrics ?? []).filter(({ id }) => id !== metric?.id) })).then(
      onClose,
    );
  return (
    <Form<MetricFields>
      label={metric ? `Metric ${metric.name}` : 'New metric'}
      shape={metricShape(others)}
      start={metricFields(metric ?? start)}
      onSend={save}
      submit="Add to draft"
      beside={
        metric && (
          <Button look="danger" onClick={() => void takeOut()}>
            Remove
          </Button>
        )
      }
    >
      {(form) => <MetricInputs form={form} fields={fields} />}
    </Form>
  );
}

function MetricInputs(props: { readonly form: UseFormReturn<MetricFields>; readonly fields: readonly FieldSummary[] }) {
  const { form, fields } = props;
  const filled = form.watch();
  const metric = triedMetric(filled);
  const trial = useMetricTrial(metric);
  const limit = Number(filled.limit) || usualLimit;
  const keys = useFieldArray({ control: form.control, name: 'by' });
  const place = (name: string): number =>
    filled.by.findIndex((key) => keyName({ field: key.field, column: key.column || undefined }) === name);
  const measure = measures.get(filled.measure);
  const ofUnit = unitOf(fields, filled.of);
  const { isDirty } = form.getFieldState('unit', form.formState);
  useEffect(() => {
    if (ofUnit !== '' && !isDirty) form.setValue('unit', ofUnit);
  }, [ofUnit, isDirty, form]);
  return (
    <>
      <CustomInput
        name="when"
        label="Events"
        render={(value, onChange) => (
          <ConditionEditor label="Events" value={value} fields={fields} onChange={onChange} />
        )}
      />
      <div className="flex items-start gap-3">
        <SelectInput name="measure" label="Measure" options={measureOptions} />
        {measure?.field !== 'none' && (
          <TextInput name="of" label="of field" mono placeholder="took" className="flex-1" />
        )}
      </div>
      <p className="-mt-2 text-[12.5px] text-second">{measure?.help}</p>
      <MetricKeys form={form} fields={fields} trial={trial} />
      {!trial && metric && <p className="text-[12.5px] text-second">Reading the tape of the last 24 h …</p>}
      {trial && <Faults trial={trial} />}
      {trial && trial.problems.length === 0 && (
        <TriedSeries
          trial={trial}
          limit={limit}
          onLeaveOut={(name) => keys.remove(place(name))}
          onTop={(name) => form.setValue(`by.${place(name)}.top`, '20', { shouldDirty: true, shouldValidate: true })}
        />
      )}
      {trial && metric && trial.problems.length === 0 && <TriedChart trial={trial} metric={metric} />}
      <div className="flex items-start gap-3">
        <TextInput name="name" label="Name" mono placeholder="booking.requests" className="flex-1" />
        <TextInput name="unit" label="Unit" mono placeholder="s" className="w-16" />
      </div>
      <TextInput name="help" label="Description" placeholder="how busy the booking site is" />
      <div className="flex items-start gap-3">
        <TextInput name="limit" label="Most series" mono className="w-24" />
        <SelectInput name="empty" label="Without events" options={emptyOptions} />
        <TextInput name="keep" label="Retention" mono placeholder="456d" className="w-20" />
      </div>
    </>
  );
}

/** The unit (UCUM) of a field that is a duration or a size; empty for others. */
function unitOf(fields: readonly FieldSummary[], name: string): string {
  const unit = fields.find((field) => field.name === name)?.range?.unit;
  return unit === 'duration' ? 's' : unit === 'size' ? 'By' : '';
}

/** What is wrong with a metric and is at none of its fields. */
function Faults({ trial }: { readonly trial: MetricTrialAnswer }) {
  if (trial.problems.length === 0) return null;
  return (
    <p role="status" className="text-[12.5px] text-second">
      {trial.problems.map(({ message }) => message).join('; ')}
    </p>
  );
}
