'use client';

import Link from 'next/link';
import type { SearchAnswer } from '#core/answers/search.ts';
import { equals } from '#core/conditions/write.ts';
import { formatBytes, formatCount, formatDuration } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { Section } from '../../kit/section.tsx';
import { percent } from '../../kit/times.ts';
import { newMetricLink } from '../metrics/new-metric-link.ts';

/** Fields shown at most. */
const mostFields = 24;

/** What the found events, or the newest of them, have in common: fields with their commonest values to click, numbers with their range. */
export function CommonFields({
  result: { fields, fieldsOf, total },
  condition,
  onAdd,
}: {
  readonly result: Pick<SearchAnswer, 'fields' | 'fieldsOf' | 'total'>;
  /** Which events were asked for. */
  readonly condition: string;
  readonly onAdd: (part: string) => void;
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
              {field.many
                ? 'many values'
                : `${formatCount(field.distinct)} ${field.distinct === 1 ? 'value' : 'values'}`}
            </span>
          </div>
          {field.range && (
            <Link
              href={newMetricLink({ when: condition, measure: 'distribution', of: field.name })}
              className="float-right text-[12px] text-mark hover:underline"
            >
              as a metric<span className="sr-only">: {field.name}</span>
            </Link>
          )}
          {field.range ? <Range range={field.range} /> : <TopValues field={field} onAdd={onAdd} />}
        </div>
      ))}
    </Section>
  );
}

function TopValues({ field, onAdd }: { readonly field: FieldSummary; readonly onAdd: (part: string) => void }) {
  const most = field.top[0]?.count ?? 1;
  return (
    <ul>
      {field.top.slice(0, 4).map(({ value, count }) => (
        <li key={value}>
          <button
            type="button"
            onClick={() => onAdd(equals(field.name, value))}
            className="relative flex min-h-6 w-full items-center justify-between gap-2 text-left text-[12.5px] hover:text-mark"
          >
            <span
              aria-hidden="true"
              className="absolute inset-y-px left-0 -z-10 rounded-[2px] bg-d1"
              style={{ width: `${(74 * count) / most}%` }}
            />
            <span className="truncate pl-1">{value === '' ? '(empty)' : value}</span>
            <span className="text-second">{formatCount(count)}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}

function Range({ range }: { readonly range: NonNullable<FieldSummary['range']> }) {
  const show = (value: number): string =>
    range.unit === 'duration'
      ? formatDuration(value)
      : range.unit === 'size'
        ? formatBytes(value)
        : value.toLocaleString('en-US', { maximumSignificantDigits: 5 });
  const most = Math.max(1, ...range.bars);
  return (
    <div className="mt-1 text-[12px] text-second">
      <div className="flex h-7 items-end gap-px border-b border-hair" aria-hidden="true">
        {range.bars.map((count, index) => (
          <span key={index} className="flex-1 bg-d3" style={{ height: `${(100 * count) / most}%` }} />
        ))}
      </div>
      <div className="flex justify-between">
        <span>
          {show(range.low)} to {show(range.high)}
        </span>
        <span>p95 {show(range.p95)}</span>
      </div>
    </div>
  );
}
