'use client';

import { parseSummary } from '#core/summaries/parse-summary.ts';
import { ExploreSentence } from '../explore-sentence.tsx';
import { Faults } from '../faults.tsx';
import { WhyEmpty } from '../lines/why-empty.tsx';
import { Reading } from '../reading.tsx';
import { KeepAsMetric } from '../summary/keep-as-metric.tsx';
import { SummaryField } from '../summary/summary-field.tsx';
import { SummaryView } from '../summary/summary-view.tsx';
import { SummaryWords } from '../summary/summary-words.tsx';
import { isEmpty } from '../use-search.ts';
import type { ExploreView, ViewState } from './view.ts';

/** Figures of the found events, by keys and over time. */
export const summaryView: ExploreView = {
  title: 'Summary',
  action: 'Search',
  hasWindow: true,
  Sentence: ({ search, asked }) => <ExploreSentence search={search} window={asked.window} />,
  Bar: ({ asked, search, fields }) => (
    <>
      <SummaryField value={asked.show} fields={fields} onChange={(text) => void asked.ask({ show: text })} />
      <KeepAsMetric summary={asked.show} condition={asked.condition} />
      <Reading search={search} />
    </>
  ),
  Answer: (state) => (
    <>
      <SummaryWords
        value={state.asked.show}
        fields={state.fields}
        onChange={(text) => void state.asked.ask({ show: text })}
      />
      <Faults search={state.search} />
      <Found {...state} />
    </>
  ),
};

function Found({ asked, search }: ViewState) {
  const { result, answered } = search;
  if (isEmpty(search)) return asked.around === null ? <WhyEmpty search={search} /> : null;
  if (!result?.summary || !answered || result.total === 0) return null;
  return (
    <SummaryView table={result.summary} estimated={result.estimated} asked={answered} every={everyOf(answered.show)} />
  );
}

/** How long the stretches of time of a summary are, in milliseconds; 0 for none. */
function everyOf(show: string): number {
  const parsed = parseSummary(show);
  return parsed.ok ? parsed.summary.every : 0;
}
