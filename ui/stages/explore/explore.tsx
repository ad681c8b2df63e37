'use client';

import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { ConditionParts } from './condition-parts.tsx';
import { Doubts } from './doubts.tsx';
import { ExtractionRow } from './lines/extraction-row.tsx';
import { openPanel } from './open-panel.tsx';
import { Question } from './question.tsx';
import { TabStrip } from './tab-strip.tsx';
import { useDoubts } from './use-doubts.ts';
import { useExplore } from './use-explore.ts';
import type { SearchState } from './use-search.ts';
import { useTabs } from './use-tabs.ts';
import { useViewState } from './use-view-state.ts';
import { viewNames } from './view-requests.ts';
import { views } from './views/index.ts';
import type { ViewState } from './views/view.ts';

/** What happened, and who caused it? */
export function Explore() {
  const asked = useExplore();
  const tabs = useTabs();
  const state = useViewState(asked);
  const { search, fields } = state;
  const { Sentence, Answer } = views[asked.view];
  return (
    <WithPanel {...openPanel(state, tabs.shown)}>
      <Sentence {...state} />
      <div className="mt-2.5 flex flex-wrap items-center justify-between gap-x-4">
        <TabStrip tabs={tabs} />
        <Button
          look="quiet"
          className="-mr-3 text-[12.5px]"
          onClick={() => asked.setPanel(asked.panel === null ? 'saved' : null)}
        >
          Saved searches …
        </Button>
      </div>
      <Question asked={asked} search={search} fields={fields} />
      <ConditionParts condition={asked.condition} off={asked.off} onOff={asked.switchOff} onOn={asked.switchOn} />
      {asked.template !== '' && (
        <ExtractionRow
          template={asked.template}
          sources={sourcesOf(search)}
          onChange={(template) => void asked.ask({ with: template })}
        />
      )}
      <Doubted {...state} />
      <ViewBar {...state} />
      <Answer {...state} />
    </WithPanel>
  );
}

/** What of the question is doubted, once it has been answered. */
function Doubted({ asked, search, fields }: ViewState) {
  const doubts = useDoubts(search, fields);
  const { result, answered } = search;
  if (!result || !answered || doubts.length === 0) return null;
  return (
    <Doubts
      doubts={doubts}
      asked={answered}
      onTake={(place, text) => (place === 'summary' ? void asked.ask({ show: text }) : asked.start(text))}
    />
  );
}

/** Which view, and what belongs to it. */
function ViewBar(state: ViewState) {
  const { asked } = state;
  const { Bar } = views[asked.view];
  return (
    <div className="mt-5 mb-2 flex flex-wrap items-center justify-between gap-x-4 gap-y-2">
      <Choice
        label="View"
        value={asked.view}
        onChange={(value) => void asked.ask({ view: value })}
        options={viewNames.map((value) => ({ value, title: views[value].title }))}
      />
      {Bar && <Bar {...state} />}
    </div>
  );
}

/** The sources of the lines that were found. */
function sourcesOf({ result }: SearchState): readonly string[] {
  return [...new Set(result?.events.map(({ source }) => source))];
}
