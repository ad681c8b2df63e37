'use client';

import Link from 'next/link';
import { equalsText } from '#core/conditions/write.ts';
import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { writeName } from '#core/summaries/write-summary.ts';
import type { SearchAnswer } from '../../../data/answers.ts';
import { Section } from '../../../kit/section.tsx';
import { percent } from '../../../kit/times/times.ts';
import { newMetricLink } from '../../metrics/new-metric-link.ts';
import { valuesInWords } from './field-in-words.ts';
import { FieldRange } from './field-range.tsx';

/** Fields shown at most. */
const mostFields = 24;

/** What the found events, or the newest of them, have in common: fields with their commonest values to click, numbers with their range. */
export function CommonFields({
  result: { fields, fieldsOf, total },
  condition,
  span,
  onAdd,
  onSummary,
}: {
  readonly result: Pick<SearchAnswer, 'fields' | 'fieldsOf' | 'total'>;
  /** Which events were asked for. */
  readonly condition: string;
  /** The stretches of time that a summary over time has, such as `1m`. */
  readonly span: string;
  readonly onAdd: (part: string) => void;
  /** Shows a summary of the found events. */
  readonly onSummary: (summary: string) => void;
}) {
  return (
    <Section
      title={
        fieldsOf < total
          ? `What the newest ${formatCount(fieldsOf)} have in common`
          : 'What these events have in common'
      }
    >
      {fields.slice(0, mostFields).map((field) => (
        <div key={field.name} className="border-t border-hair py-1.5">
          <div className="flex items-baseline justify-between gap-2">
            <button
              type="button"
              className="line min-h-6 min-w-6 truncate text-left font-[650] hover:text-mark"
              title={`Narrow to events that have ${field.name}`}
              onClick={() => onAdd(`has ${/^[\w.@-]+$/.test(field.name) ? field.name : `\`${field.name}\``}`)}
            >
              {field.name}
            </button>
            <span className="shrink-0 text-[12px] text-second">
              {field.share < 0.995 && `${percent(field.share)} · `}
              {valuesInWords(field)}
            </span>
          </div>
          {field.range ? (
            <FieldRange name={field.name} range={field.range} onAdd={onAdd} />
          ) : (
            <TopValues field={field} onAdd={onAdd} />
          )}
          <FieldQuestions field={field} condition={condition} span={span} onSummary={onSummary} />
        </div>
      ))}
    </Section>
  );
}

/** What can be asked about a field in one click. */
function FieldQuestions({
  field,
  condition,
  span,
  onSummary,
}: {
  readonly field: FieldSummary;
  readonly condition: string;
  readonly span: string;
  readonly onSummary: (summary: string) => void;
}) {
  const name = writeName(field.name);
  const key = field.name === 'source' ? 'severity' : 'source';
  const questions = field.range
    ? [
        { title: `p95 by ${key}`, summary: `p95(${name}), count() by ${key}` },
        { title: 'p95 over time', summary: `p95(${name})`, isOverTime: true },
      ]
    : [
        { title: 'count by it', summary: `count() by ${name} top 20` },
        { title: 'over time', summary: `count() by ${name}`, isOverTime: true },
      ];
  return (
    <p className="flex flex-wrap gap-x-3 text-[12px]">
      {questions.map(({ title, summary, isOverTime = false }) => (
        <button
          key={title}
          type="button"
          onClick={() => onSummary(isOverTime ? `${summary} every ${span}` : summary)}
          className="min-h-6 text-mark hover:underline"
        >
          {title}
          <span className="sr-only">: {field.name}</span>
        </button>
      ))}
      {field.range && (
        <Link
          href={newMetricLink({ when: condition, measure: 'distribution', of: field.name })}
          className="inline-flex min-h-6 items-center text-mark hover:underline"
        >
          as a metric<span className="sr-only">: {field.name}</span>
        </Link>
      )}
    </p>
  );
}

function TopValues({ field, onAdd }: { readonly field: FieldSummary; readonly onAdd: (part: string) => void }) {
  const most = field.top[0]?.count ?? 1;
  return (
    <ul>
      {field.top.slice(0, 4).map(({ value, count }) => (
        <li key={value} className="group flex items-center">
          <button
            type="button"
            onClick={() => onAdd(equalsText(field.name, value))}
            className="relative flex min-h-6 min-w-0 flex-1 items-center justify-between gap-2 text-left text-[12.5px] hover:text-mark"
          >
            <span
              aria-hidden="true"
              className="absolute inset-y-px left-0 -z-10 rounded-[2px] bg-d1"
              style={{ width: `${(74 * count) / most}%` }}
            />
            <span className="truncate pl-1">{value === '' ? '(empty)' : value}</span>
            <span className="text-second">{formatCount(count)}</span>
          </button>
          <button
            type="button"
            title="Leave out these events"
            onClick={() => onAdd(`not ${equalsText(field.name, value)}`)}
            className="min-h-6 px-1.5 text-[12px] text-second opacity-0 hover:text-mark focus-visible:opacity-100 group-hover:opacity-100"
          >
            not<span className="sr-only"> {value === '' ? '(empty)' : value}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
