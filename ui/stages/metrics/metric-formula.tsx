'use client';

import { parseAsString, useQueryStates } from 'nuqs';
import { useEffect, useState } from 'react';
import { writeField } from '#core/conditions/write.ts';
import { formatDuration } from '#core/events/units.ts';
import { metricCsv } from '#core/views/metric-csv.ts';
import type { MetricExpressionAnswer, MetricsAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { saveFile } from '../../kit/save-file.ts';
import { Section } from '../../kit/section.tsx';
import { Select } from '../../kit/select.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { figureInWords } from '../../parts/metrics/figures.ts';
import { MetricChart } from './metric-chart.tsx';
import { metricWindows } from './windows.ts';

/** Several metrics in one expression, over a window and by keys that all of them have. */
export function MetricFormula({ answer, onClose }: { readonly answer: MetricsAnswer; readonly onClose: () => void }) {
  const [{ formula, window, by }, choose] = useQueryStates({
    formula: parseAsString.withDefault(''),
    window: parseAsString.withDefault('1d'),
    by: parseAsString.withDefault(''),
  });
  const [written, setWritten] = useState(formula);
  useEffect(() => setWritten(formula), [formula]);
  const chosen = metricWindows.find(({ value }) => value === window) ?? metricWindows[0];
  const given = { expression: formula, from: chosen.from, ...(by && { by }) };
  const { data, error } = useQuestion('metricExpression', formula.trim() === '' ? null : given, 10_000);
  const live = answer.metrics.filter(({ state }) => state === 'live' || state === 'changed');
  const isFresh = data?.expression === formula && !error;
  return (
    <Section
      title="Metric formula"
      className="mt-6"
      aside={
        <Button look="quiet" onClick={onClose}>
          Cancel
        </Button>
      }
    >
      <form
        className="flex flex-wrap items-start gap-2"
        onSubmit={(event) => {
          event.preventDefault();
          void choose({ formula: written.trim() });
        }}
      >
        <TextField
          label="Metric formula"
          isLabelHidden
          mono
          className="min-w-[280px] flex-1"
          placeholder="payments.amount / booking.requests"
          autoComplete="off"
          value={written}
          onChange={(event) => setWritten(event.target.value)}
          fault={error?.message ?? ''}
        />
        <Select
          label="Add metric"
          isLabelHidden
          value=""
          placeholder="add metric"
          options={live.map(({ name }) => ({ value: name, title: name }))}
          onChange={(name) => setWritten((text) => `${text.trim()} ${writeField(name)}`.trim())}
        />
        <Button type="submit">Show</Button>
      </form>
      {formula.trim() === '' && (
        <p className="mt-2 text-[12.5px] text-second">
          Metric names with + - * / and parentheses. Add a figure after a dot, such as booking.took.p50. Put names with
          other characters in backquotes.
        </p>
      )}
      {isFresh && data && (
        <Outcome
          data={data}
          window={chosen.value}
          onBy={(name) => void choose({ by: name })}
          onWindow={(value) => void choose({ window: value })}
        />
      )}
    </Section>
  );
}

/** What an expression comes to over the window: its picture, and the whole in words. */
function Outcome(props: {
  readonly data: MetricExpressionAnswer;
  readonly window: string;
  /** Chooses the key; null for the total. */
  readonly onBy: (key: string | null) => void;
  readonly onWindow: (window: string) => void;
}) {
  const { data, onBy, onWindow } = props;
  return (
    <>
      <div className="mt-3 flex flex-wrap items-center justify-end gap-2">
        {data.keys.length > 0 && (
          <Select
            label="By"
            isLabelHidden
            value={data.by.join(',') || 'all'}
            options={[
              { value: 'all', title: 'total' },
              ...data.keys.map((name) => ({ value: name, title: `by ${name}` })),
            ]}
            onChange={(name) => onBy(name === 'all' ? null : name)}
          />
        )}
        <Choice label="Window" value={props.window} options={metricWindows} onChange={onWindow} />
        <Button
          look="quiet"
          onClick={() =>
            saveFile('metrics.csv', 'text/csv', metricCsv({ ...data, figure: data.expression, others: null }))
          }
        >
          CSV
        </Button>
      </div>
      <MetricChart
        height={230}
        picture={{ ...data, figure: data.expression, unit: '', isStacked: false, others: null }}
      />
      <p className="mt-1 text-[12.5px] text-second">
        By {formatDuration(data.every / 1_000)}; over the whole window{' '}
        <b className="font-[650] text-ink">{figureInWords(data.whole.all, '', '')}</b>
        {data.whole.all === null && ', as one of the metrics has no data there'}.
        {data.otherCount > 0 && ` Of ${data.lines.length + data.otherCount} series, the largest are shown.`}
      </p>
    </>
  );
}
