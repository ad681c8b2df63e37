'use client';

import { Field as Base, Description, Input, Label, Textarea } from '@headlessui/react';
import { yupResolver } from '@hookform/resolvers/yup';
import { format } from 'date-fns';
import { type ReactNode, useId, useState } from 'react';
import {
  Controller,
  type DefaultValues,
  type FieldPath,
  type FieldValues,
  FormProvider,
  type UseFormReturn,
  useForm,
  useFormContext,
} from 'react-hook-form';
import { type ObjectSchema, string, ValidationError } from 'yup';
import { parseTime } from '#core/conditions/times.ts';
import { problemsOf } from '#core/input/input-problem.ts';
import { ApiProblem } from '../data/client.ts';
import { Button } from './button.tsx';
import { Problem } from './section.tsx';
import { Select, type SelectOption } from './select.tsx';
import { Fault } from './text-field.tsx';
import { DayChoice } from './times/day-choice.tsx';

interface FormProps<Values extends FieldValues> {
  readonly label: string;
  /** What is asked of the values, in words that stand under the fields. */
  readonly shape: ObjectSchema<Values>;
  readonly start: DefaultValues<Values>;
  /** Sends what was filled in; what it rejects with is said under the field that it is about, or above the button. */
  readonly onSend: (values: Values) => Promise<unknown>;
  readonly submit: string;
  /** Whether the fields are empty again when it was sent. */
  readonly clears?: boolean;
  /** By which paths the API names the fields, where it names them otherwise: `{ 'settings.globs': 'globs' }`. */
  readonly paths?: Readonly<Record<string, FieldPath<Values>>>;
  readonly children: ReactNode | ((form: UseFormReturn<Values>) => ReactNode);
  /** More buttons beside the one that sends. */
  readonly beside?: ReactNode;
}

/**
 * Fields that are sent together. What is wrong is said under each field as soon as it was touched, and the button says what
 * is still to do; pressed too early it goes to the first field that is not right yet.
 */
export function Form<Values extends FieldValues>(props: FormProps<Values>) {
  const { label, shape, start, onSend, submit, clears = false, paths = {}, children, beside } = props;
  const form = useForm<Values>({
    // The resolver takes shapes whose input and output differ; here both are what the fields hold.
    resolver: yupResolver(shape as never) as never,
    defaultValues: start,
    mode: 'onChange',
    criteriaMode: 'firstError',
  });
  const [failed, setFailed] = useState('');
  const note = useId();
  const { errors, isSubmitting } = form.formState;
  const open = openFields(shape, form.watch());
  const send = form.handleSubmit(async (values) => {
    setFailed('');
    try {
      await onSend(values as unknown as Values);
      if (clears) form.reset(start);
    } catch (error) {
      if (!shownAtFields(error, form, paths)) setFailed(error instanceof Error ? error.message : 'Not saved.');
    }
  });
  return (
    <FormProvider {...form}>
      <form aria-label={label} noValidate onSubmit={(event) => void send(event)} className="flex flex-col gap-3">
        {typeof children === 'function' ? children(form as UseFormReturn<Values>) : children}
        {failed !== '' && <Problem>{failed}</Problem>}
        <div className="flex flex-wrap items-center gap-x-3 gap-y-1">
          <Button
            type="submit"
            look="main"
            aria-disabled={open.length > 0}
            aria-describedby={open.length > 0 ? note : undefined}
            className={open.length > 0 ? 'opacity-60' : ''}
            disabled={isSubmitting}
          >
            {submit}
          </Button>
          {beside}
          {open.length > 0 && (
            <span id={note} className="basis-full text-[12.5px] text-second">
              {Object.keys(errors).length > 0 ? 'Fix first: ' : 'Still needed: '}
              {open.join(' ')}
            </span>
          )}
        </div>
      </form>
    </FormProvider>
  );
}

/** What is not right yet, each in a few words. */
function openFields<Values extends FieldValues>(shape: ObjectSchema<Values>, values: unknown): readonly string[] {
  try {
    shape.validateSync(values, { abortEarly: false });
    return [];
  } catch (error) {
    if (!(error instanceof ValidationError)) throw error;
    // Of each field the first thing that is wrong.
    const messages = new Map<string, string>();
    for (const { path, message } of problemsOf(error)) if (!messages.has(path)) messages.set(path, message);
    return [...messages.values()].slice(0, 3);
  }
}

/** Says what the API found wrong under the fields that it named; false where it named none. */
function shownAtFields<Values extends FieldValues>(
  error: unknown,
  form: UseFormReturn<Values>,
  paths: Readonly<Record<string, FieldPath<Values>>>,
): boolean {
  const problems = error instanceof ApiProblem ? (error.details.problems ?? []) : [];
  let hasFault = false;
  for (const { path, message } of problems) {
    const field = paths[path.replace(/\[\d+\].*$/, '')] ?? (path as FieldPath<Values>);
    if (!(field in form.getValues())) continue;
    form.setError(field, { message }, { shouldFocus: !hasFault });
    hasFault = true;
  }
  return hasFault;
}

interface FieldProps {
  readonly name: string;
  readonly label: string;
  readonly hint?: ReactNode;
  readonly className?: string;
}

/** A field with its label above, and under it what is wrong, or a hint. */
function Field(props: FieldProps & { readonly children: (isWrong: boolean) => ReactNode }) {
  const { name, label, hint, className = '', children } = props;
  const message = useFormContext().getFieldState(name, useFormContext().formState).error?.message;
  return (
    <Base className={className}>
      <Label className="block text-[12.5px] font-semibold text-second">{label}</Label>
      {children(message !== undefined)}
      {message !== undefined ? (
        <Fault text={message} />
      ) : (
        hint && <Description className="mt-0.5 text-[12.5px] text-second">{hint}</Description>
      )}
    </Base>
  );
}

const boxed = 'mt-1 w-full rounded-[5px] border bg-sheet px-2.5 py-1';

/** A line of text. */
export function TextInput(props: FieldProps & { readonly mono?: boolean; readonly placeholder?: string }) {
  const { mono = false, placeholder, ...field } = props;
  const { register } = useFormContext();
  return (
    <Field {...field}>
      {(isWrong) => (
        <Input
          {...register(field.name)}
          invalid={isWrong}
          placeholder={placeholder}
          autoComplete="off"
          className={`${boxed} ${isWrong ? 'border-danger' : 'border-hair'} ${mono ? 'line' : ''}`}
        />
      )}
    </Field>
  );
}

/** Several lines of text. */
export function TextArea(props: FieldProps & { readonly mono?: boolean; readonly placeholder?: string }) {
  const { mono = false, placeholder, ...field } = props;
  const { register } = useFormContext();
  return (
    <Field {...field}>
      {(isWrong) => (
        <Textarea
          {...register(field.name)}
          invalid={isWrong}
          placeholder={placeholder}
          className={`${boxed} h-18 ${isWrong ? 'border-danger' : 'border-hair'} ${mono ? 'line' : ''}`}
        />
      )}
    </Field>
  );
}

/** One of several. */
export function SelectInput(
  props: FieldProps & {
    readonly options: readonly SelectOption<string>[];
    readonly placeholder?: string;
    /** For fields that depend on it. */
    readonly onChosen?: (value: string) => void;
  },
) {
  const { name, label, options, placeholder, className, onChosen } = props;
  return (
    <Controller
      name={name}
      render={({ field }) => (
        <Select
          label={label}
          value={field.value}
          options={options}
          onChange={(value) => {
            field.onChange(value);
            onChosen?.(value);
          }}
          {...(placeholder && { placeholder })}
          {...(className && { className })}
        />
      )}
    />
  );
}

/** A field that is drawn by `render`, such as an editor for conditions. */
export function CustomInput(
  props: FieldProps & { readonly render: (value: string, onChange: (value: string) => void) => ReactNode },
) {
  const { render, ...field } = props;
  return (
    <Field {...field}>
      {() => (
        <Controller
          name={field.name}
          render={({ field: { value, onChange } }) => (
            <div data-field={field.name} className="mt-1">
              {render(value, onChange)}
            </div>
          )}
        />
      )}
    </Field>
  );
}

/** A time that is typed (`-2h`, `now`, `2026-11-24 08:15`), with a calendar beside it. */
export function TimeInput(props: FieldProps & { readonly placeholder?: string }) {
  const { placeholder, ...field } = props;
  const { register, setValue, watch } = useFormContext();
  const typed: unknown = watch(field.name);
  const time = typeof typed === 'string' ? parseTime(typed, Date.now()) : undefined;
  return (
    <Field {...field}>
      {(isWrong) => (
        <span className={`flex items-center ${boxed} py-0! pr-1 ${isWrong ? 'border-danger' : 'border-hair'}`}>
          <Input
            {...register(field.name)}
            invalid={isWrong}
            placeholder={placeholder}
            autoComplete="off"
            className="line min-w-0 flex-1 bg-transparent py-1 outline-none"
          />
          <DayChoice
            label={`Choose a day: ${field.label}`}
            day={time === undefined ? undefined : new Date(time)}
            onChoose={(day) =>
              setValue(field.name, withDay(day, time), { shouldValidate: true, shouldDirty: true, shouldTouch: true })
            }
          />
        </span>
      )}
    </Field>
  );
}

/** A day as it is typed, at the time of day that was there before. */
function withDay(day: Date, before: number | undefined): string {
  const clock = before === undefined ? '00:00' : format(before, 'HH:mm');
  return `${format(day, 'yyyy-MM-dd')}T${clock}`;
}

/** What is asked of a typed time. */
export const timeText = string()
  .required('Enter a time, such as now, -2h or 2026-11-24T08:15.')
  .test(
    'time',
    'Not a time. Examples: now, -2h, 2026-11-24T08:15.',
    (text) => !text || parseTime(text, Date.now()) !== undefined,
  );
