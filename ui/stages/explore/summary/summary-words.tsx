'use client';

import { X } from 'lucide-react';
import { type ReactNode, useEffect, useState } from 'react';
import { parseDuration, parseQuantity } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import {
  fieldlessFigures,
  figureOf,
  isLeast,
  type SummaryParts,
  spans,
  withFigure,
  withKeys,
  withLeast,
  withoutFigure,
} from '#core/summaries/change-summary.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { type Aggregate, type AggregateFunction, aggregateFunctions } from '#core/summaries/summary.ts';
import { writeSpan, writeSummary } from '#core/summaries/write-summary.ts';
import { Button } from '../../../kit/button.tsx';
import { Select } from '../../../kit/select.tsx';
import { fieldInWords } from '../lines/field-in-words.ts';

const figureTitles: Readonly<Record<AggregateFunction, string>> = {
  count: 'the number of events',
  rate: 'events a second',
  sum: 'the sum of',
  avg: 'the average of',
  min: 'the smallest',
  max: 'the largest',
  median: 'the median of',
  p50: 'the median (p50) of',
  p75: 'p75 of',
  p90: 'p90 of',
  p95: 'p95 of',
  p99: 'p99 of',
  distinct: 'the number of different',
  first: 'the first',
  last: 'the last',
};
const spanTitles: Readonly<Record<string, string>> = {
  '1s': 'second',
  '10s': '10 seconds',
  '1m': 'minute',
  '5m': '5 minutes',
  '15m': '15 minutes',
  '1h': 'hour',
  '6h': '6 hours',
  '1d': 'day',
};
const mostKeys = 4;
const mostFigures = 6;

/**
 * A summary as a sentence whose words can be changed in place. What is changed is written as text, and what is written as text
 * is shown here: both are the same summary. Nothing is shown where the text cannot be read.
 */
export function SummaryWords({
  value,
  fields,
  onChange,
}: {
  readonly value: string;
  /** Fields to choose from. */
  readonly fields: readonly FieldSummary[];
  readonly onChange: (text: string) => void;
}) {
  const parsed = parseSummary(value);
  if (!parsed.ok) return null;
  const { summary } = parsed;
  const change = (next: SummaryParts): void => onChange(writeSummary(next));
  return (
    <fieldset aria-label="Summary in words" className="mb-2 flex flex-wrap items-baseline gap-x-2 gap-y-1">
      <span>Show</span>
      {summary.columns.map((column, place) => {
        const figure = figureOf(summary, column);
        return (
          <Part
            key={`${place} ${column.name}`}
            name={column.name}
            {...(summary.columns.length > 1 && { onRemove: () => change(withoutFigure(summary, place)) })}
          >
            {place > 0 && <span className="text-second">and</span>}
            {figure ? (
              <FigureWords
                figure={figure}
                fields={fields}
                onChange={(next) => change(withFigure(summary, place, next))}
              />
            ) : (
              <code className="line">{column.name}</code>
            )}
          </Part>
        );
      })}
      {summary.columns.length < mostFigures && fields.length > 0 && (
        <Add
          title="another figure"
          onAdd={() => change(withFigure(summary, summary.columns.length, nextFigure(summary, fields)))}
        />
      )}
      <span className="text-second">by</span>
      <KeyWords summary={summary} fields={fields} onChange={change} />
      <TimeAndSizeWords summary={summary} onChange={change} />
      <Least summary={summary} onChange={change} />
    </fieldset>
  );
}

interface WordsProps {
  readonly summary: SummaryParts;
  readonly onChange: (next: SummaryParts) => void;
}

/** The fields to group by. */
function KeyWords(props: WordsProps & { readonly fields: readonly FieldSummary[] }) {
  const { summary, fields, onChange } = props;
  return (
    <>
      {summary.by.map((key, place) => (
        <Part
          key={key}
          name={key}
          onRemove={() =>
            onChange(
              withKeys(
                summary,
                summary.by.filter((one) => one !== key),
              ),
            )
          }
        >
          <FieldWord
            label={`Field ${place + 1} to group by`}
            value={key}
            fields={fields}
            onChange={(next) =>
              onChange(
                withKeys(
                  summary,
                  summary.by.map((one) => (one === key ? next : one)),
                ),
              )
            }
          />
        </Part>
      ))}
      {summary.by.length < mostKeys && (
        <FieldWord
          label="Another field to group by"
          value=""
          placeholder={summary.by.length === 0 ? 'nothing' : 'and …'}
          fields={fields.filter(({ name }) => !summary.by.includes(name))}
          onChange={(next) => onChange(withKeys(summary, [...summary.by, next]))}
        />
      )}
    </>
  );
}

/** Over which stretches of time, and how many groups. */
function TimeAndSizeWords({ summary, onChange }: WordsProps) {
  const every = summary.every > 0 ? writeSpan(summary.every) : '';
  return (
    <>
      <span className="text-second">every</span>
      <Select
        look="word"
        isLabelHidden
        label="Every how long"
        value={every}
        options={[
          { value: '', title: 'not over time' },
          ...[...new Set([...spans.map(writeSpan), ...(every === '' ? [] : [every])])].map((span) => ({
            value: span,
            title: spanTitles[span] ?? span,
          })),
        ]}
        onChange={(span) => onChange({ ...summary, every: parseDuration(span) ?? 0 })}
      />
      <span className="text-second">the largest</span>
      <Select
        look="word"
        isLabelHidden
        label="How many groups"
        value={String(summary.top)}
        options={[...new Set([0, 3, 5, 10, 20, 50, summary.top])].map((top) => ({
          value: String(top),
          title: top === 0 ? 'all' : String(top),
        }))}
        onChange={(top) => onChange({ ...summary, top: Number(top) })}
      />
    </>
  );
}

/** A part of the sentence with a button that removes it. */
function Part(props: { readonly name: string; readonly onRemove?: () => void; readonly children: ReactNode }) {
  return (
    <span className="inline-flex items-baseline gap-1.5">
      {props.children}
      {props.onRemove && (
        <button
          type="button"
          aria-label={`Leave out ${props.name}`}
          onClick={props.onRemove}
          className="grid size-6 place-items-center self-center text-second hover:text-mark"
        >
          <X size={12} aria-hidden="true" />
        </button>
      )}
    </span>
  );
}

function Add({ title, onAdd }: { readonly title: string; readonly onAdd: () => void }) {
  return (
    <Button look="quiet" className="px-1! py-0!" onClick={onAdd}>
      <span aria-hidden="true">+ </span>
      {title}
    </Button>
  );
}

/** A function and its field, if it has one. */
function FigureWords(props: {
  readonly figure: Aggregate;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (figure: Aggregate) => void;
}) {
  const { figure, fields, onChange } = props;
  const choose = (name: AggregateFunction): void => {
    const field = figure.field ?? fieldFor(name, fields);
    onChange(fieldlessFigures.has(name) ? { function: name } : { function: name, field });
  };
  return (
    <>
      <Select
        look="word"
        isLabelHidden
        label="Figure"
        value={figure.function}
        options={aggregateFunctions.map((name) => ({ value: name, title: figureTitles[name] }))}
        onChange={choose}
      />
      {figure.field !== undefined && (
        <FieldWord
          label={`Field of ${figure.function}`}
          value={figure.field}
          fields={fields}
          onChange={(field) => onChange({ ...figure, field })}
        />
      )}
    </>
  );
}

/** A suitable field for a function: a number, or any field for `distinct`, `first` and `last`. */
function fieldFor(name: AggregateFunction, fields: readonly FieldSummary[]): string {
  const isOfAny = name === 'distinct' || name === 'first' || name === 'last';
  return fields.find(({ range }) => (range !== undefined) !== isOfAny)?.name ?? fields[0]?.name ?? 'source';
}

/** The figure that *another figure* adds: a count, p95 of a number, or distinct values. */
function nextFigure(summary: SummaryParts, fields: readonly FieldSummary[]): Aggregate {
  const isCounted = summary.aggregates.some(({ function: name }) => name === 'count');
  if (!isCounted) return { function: 'count' };
  const name = fields.some(({ range }) => range) ? 'p95' : 'distinct';
  return { function: name, field: fieldFor(name, fields) };
}

function FieldWord(props: {
  readonly label: string;
  readonly value: string;
  readonly placeholder?: string;
  readonly fields: readonly FieldSummary[];
  readonly onChange: (field: string) => void;
}) {
  const { label, value, placeholder, fields, onChange } = props;
  const known = fields.map((field) => ({
    value: field.name,
    title: fieldInWords(field),
    shown: field.name,
  }));
  const isKnown = value === '' || fields.some(({ name }) => name === value);
  return (
    <Select
      look="word"
      isLabelHidden
      label={label}
      value={value}
      {...(placeholder !== undefined && { placeholder })}
      options={isKnown ? known : [{ value, title: value }, ...known]}
      onChange={onChange}
    />
  );
}

/** Only those groups whose first figure is over a value. */
function Least({
  summary,
  onChange,
}: {
  readonly summary: SummaryParts;
  readonly onChange: (next: SummaryParts) => void;
}) {
  const { having } = summary;
  // A filter that these words cannot express stays in the text alone.
  const isOther = having !== undefined && !isLeast(summary);
  const written = having?.written ?? '';
  const [text, setText] = useState(written);
  useEffect(() => setText(written), [written]);
  const quantity = text === '' ? undefined : parseQuantity(text);
  const settle = (): void => {
    if (text !== written && (text === '' || quantity)) onChange(withLeast(summary, text, quantity?.value ?? 0));
  };
  if (isOther) return <span className="text-second">filtered as written above</span>;
  return (
    <label className="inline-flex items-baseline gap-2">
      <span className="text-second">only those over</span>
      <input
        aria-invalid={text !== '' && !quantity}
        value={text}
        placeholder="any"
        onChange={(event) => setText(event.target.value)}
        onBlur={settle}
        onKeyDown={(event) => event.key === 'Enter' && settle()}
        className="line w-[72px] border-b border-dotted border-mark bg-transparent px-1"
      />
    </label>
  );
}
