'use client';

import { parseAsInteger, parseAsString, useQueryStates } from 'nuqs';
import { formatCoins } from '#core/costs/format-coins.ts';
import { formatCount } from '#core/events/units.ts';
import { keyName } from '#core/plan/parts/metrics/metric.ts';
import type { MetricsAnswer } from '../../data/answers.ts';
import { useQuestion } from '../../data/client.ts';
import { useDraft } from '../../data/draft.ts';
import { Button } from '../../kit/button.tsx';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Nothing, Problem, Section } from '../../kit/section.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { MetricsStill } from '../../kit/still-pictures.tsx';
import { TextField } from '../../kit/text-field.tsx';
import { MetricDetail } from './metric-detail.tsx';
import { MetricFormula } from './metric-formula.tsx';
import { MetricPanel } from './metric-panel.tsx';
import { MetricTable } from './metric-table.tsx';
import { MetricsOrTalkers } from './metrics-or-talkers.tsx';

/** Under which a new metric is open, in the address. */
const newOne = 'new';

/** Which numbers can outlive the lines? The metrics of the plan, one of them over time, and making one. */
export function Metrics() {
  const [{ metric, edit, when, measure, of, keys, top, formula, find }, choose] = useQueryStates({
    metric: parseAsString.withDefault(''),
    edit: parseAsString.withDefault(''),
    when: parseAsString.withDefault(''),
    measure: parseAsString.withDefault('count'),
    of: parseAsString.withDefault(''),
    keys: parseAsString.withDefault(''),
    top: parseAsInteger,
    formula: parseAsString,
    find: parseAsString.withDefault(''),
  });
  const { data, error } = useQuestion('metrics', {}, 10_000);
  const { plan } = useDraft();
  const edited = plan?.metrics?.find(({ id }) => id === edit);
  const isOpen = plan !== undefined && (edit === newOne || edited !== undefined);
  const close = (): void => void choose({ edit: null, when: null, measure: null, of: null, keys: null, top: null });
  const shown =
    data?.metrics.find(({ id, state }) => id === metric && state !== 'new') ?? data?.metrics.find(isRunning);
  const start = {
    ...{ when, measure },
    ...(of && { of }),
    ...(keys && { by: keys.split(',').map((field) => ({ field, ...(top !== null && { top }) })) }),
  };
  return (
    <WithPanel
      open={isOpen}
      title={edited ? edited.name : 'New metric'}
      onClose={close}
      panel={<MetricPanel key={edit} metric={edited} start={start} onClose={close} />}
    >
      <Sentence>{data ? <MetricsSentence answer={data} /> : <FigurePending />}</Sentence>
      {error && <Problem>{error.message}</Problem>}
      {data && data.metrics.length === 0 && <NoMetrics onCreate={() => void choose({ edit: newOne })} />}
      {data && data.metrics.length > 0 && (
        <>
          <Section
            title={<MetricsOrTalkers current="metrics" />}
            className="mt-5"
            aside={
              <span className="flex flex-wrap items-center justify-end gap-2">
                <TextField
                  label="Find metric"
                  isLabelHidden
                  placeholder="find by name, field, condition"
                  className="w-56"
                  value={find}
                  onChange={(event) => void choose({ find: event.target.value || null }, { history: 'replace' })}
                />
                <Button onClick={() => void choose({ formula: formula === null ? '' : null })}>Combine metrics</Button>
                <Button look="main" onClick={() => void choose({ edit: newOne })}>
                  Create metric
                </Button>
              </span>
            }
          >
            <MetricTable
              answer={{ ...data, metrics: data.metrics.filter((one) => isAbout(one, find)) }}
              chosen={shown?.id ?? ''}
              onChoose={(id, state) => void choose(state === 'new' ? { edit: id } : { metric: id })}
              onEdit={(id) => void choose({ edit: id })}
            />
          </Section>
          {formula !== null && <MetricFormula answer={data} onClose={() => void choose({ formula: null })} />}
          {shown && formula === null && <MetricDetail key={shown.id} metric={shown} />}
        </>
      )}
    </WithPanel>
  );
}

function isRunning({ state }: MetricsAnswer['metrics'][number]): boolean {
  return state === 'live' || state === 'changed';
}

/** Whether all words that are looked for stand somewhere in a metric. */
function isAbout({ name, help, when, of, by, measure }: MetricsAnswer['metrics'][number], find: string): boolean {
  const text = [name, help, when, of, measure, ...by.map(keyName)].join(' ').toLowerCase();
  return find
    .toLowerCase()
    .split(/\s+/)
    .every((word) => text.includes(word));
}

function MetricsSentence({ answer }: { readonly answer: MetricsAnswer }) {
  const { metrics, series, coins, currency } = answer;
  const count = metrics.filter(({ state }) => state !== 'new').length;
  if (count === 0) return <>There are no metrics yet: only how much arrives is counted.</>;
  return (
    <>
      <Figure name="metrics" over="now" unit="metrics" value={count}>
        {count}
      </Figure>{' '}
      {count === 1 ? 'metric' : 'metrics'} with{' '}
      <Figure name="metric series" over="last 30 days" unit="series" value={series}>
        {formatCount(series)} series
      </Figure>
      {currency && (
        <>
          ,{' '}
          <Figure name="cost of metric series" over="a month" unit={currency.sign} value={coins} to="/costs">
            {formatCoins(coins, currency)}
          </Figure>{' '}
          a month
        </>
      )}
      . They count <Mark>everything that arrives</Mark>, also what no tier keeps.
    </>
  );
}

/** What the stage will show once there is a metric. */
function NoMetrics({ onCreate }: { readonly onCreate: () => void }) {
  return (
    <>
      <div className="mt-5 mb-3">
        <MetricsOrTalkers current="metrics" />
      </div>
      <Nothing title="No metrics yet." picture={<MetricsStill />}>
        <p className="mt-1 max-w-[640px]">
          A metric counts or measures events as they arrive, kept or not, and is stored for 15 months. Lines that are
          only ever counted need not be kept. Choose the events and what to measure.
        </p>
        <div className="mt-3">
          <Button look="main" onClick={onCreate}>
            Create metric
          </Button>
        </div>
      </Nothing>
    </>
  );
}
