'use client';

import { parseAsString, parseAsStringLiteral, useQueryState } from 'nuqs';
import { useEffect, useMemo, useState } from 'react';
import { parseWindow } from '#core/conditions/times.ts';
import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { parseSummary } from '#core/search/parse-summary.ts';
import { useApi } from '../../data/use-api.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { Nothing, Problem } from '../../kit/section.tsx';
import { dayAndMinute } from '../../kit/times.ts';
import { WindowPicker } from '../../kit/window-picker.tsx';
import { CommonFields } from './common-fields.tsx';
import { Doubts } from './doubts.tsx';
import { EventList } from './event-list.tsx';
import { ExploreSentence } from './explore-sentence.tsx';
import { SummaryView } from './summary-view.tsx';
import { TimeSpine } from './time-spine.tsx';
import { type SearchRequest, type SearchState, useSearch } from './use-search.ts';

const views = ['lines', 'summary'] as const;
const listHeight = 520;

/** What happened, and who caused it? */
export function Explore() {
  const [condition, setCondition] = useQueryState('c', parseAsString.withDefault(''));
  const [window, setWindow] = useQueryState('w', parseAsString.withDefault('-1h'));
  const [show, setShow] = useQueryState('show', parseAsString.withDefault('count() by source every 5m'));
  const [view, setView] = useQueryState('view', parseAsStringLiteral(views).withDefault('lines'));
  const [focus] = useQueryState('focus');
  const [typed, setTyped] = useState(condition);
  const [run, setRun] = useState(0);
  useEffect(() => setTyped(condition), [condition]);
  const request = useMemo<SearchRequest | undefined>(() => {
    void run;
    const parsed = parseWindow(window, Date.now());
    if (!parsed) return undefined;
    return {
      condition,
      ...parsed,
      show: view === 'summary' ? show : '',
      limit: view === 'lines' ? 500 : 0,
      buckets: view === 'lines' ? 64 : 0,
      fields: view === 'lines',
    };
  }, [condition, window, show, view, run]);
  const search = useSearch(request);
  const { data: known } = useApi<{ readonly fields: readonly FieldSummary[] }>('/api/fields', 60_000);
  const start = (text: string): void => {
    void setCondition(text === '' ? null : text);
    setRun((n) => n + 1);
  };
  const add = (part: string): void =>
    start(
      condition.trim() === '' ? part : /\bor\b/i.test(condition) ? `(${condition}) ${part}` : `${condition} ${part}`,
    );
  const { result, answered } = search;
  const found = foundSoFar(search);
  return (
    <main className="px-6 pb-20">
      <ExploreSentence search={search} window={window} />
      <div className="mt-3.5 flex items-start gap-3">
        <div className="min-w-0 flex-1">
          <ConditionEditor
            value={typed}
            fields={known?.fields ?? []}
            onChange={setTyped}
            onRun={() => start(typed)}
            autoFocus={focus !== null}
          />
        </div>
        <WindowPicker value={window} onChange={(next) => void setWindow(next)} />
        {search.running ? (
          <Button className="h-[38px]" onClick={search.cancel}>
            Stop
          </Button>
        ) : (
          <Button look="main" className="h-[38px]" onClick={() => start(typed)}>
            Search
          </Button>
        )}
      </div>
      {result && answered && result.doubts.length > 0 && (
        <Doubts
          doubts={result.doubts}
          asked={answered}
          onTake={(place, text) => (place === 'summary' ? void setShow(text) : start(text))}
        />
      )}
      <div className="mt-5 mb-2 flex items-center justify-between gap-4">
        <Choice
          label="View"
          value={view}
          onChange={(value) => void setView(value)}
          options={[
            { value: 'lines', title: 'Lines' },
            { value: 'summary', title: 'Summary' },
          ]}
        />
        {view === 'summary' && <SummaryField value={show} onChange={(text) => void setShow(text)} />}
        <Reading search={search} />
      </div>
      {search.failed && (
        <Problem>
          {search.failed.message}
          {search.failed.problem && ` at character ${search.failed.problem.start + 1}`}
          {search.failed.problem?.suggestion && `; did you mean ${search.failed.problem.suggestion}?`}
        </Problem>
      )}
      {result && result.unread > 0 && (
        <Problem>
          The search took too long: {formatCount(result.unread)} of {formatCount(result.segments)} segments were not
          read. What is shown leaves their events out. Narrow the window, or name a source.
        </Problem>
      )}
      {result && !search.running && result.total === 0 && <WhyEmpty search={search} />}
      {found && view === 'lines' && (
        <div className="flex gap-5">
          <div className="flex min-w-0 flex-1">
            <TimeSpine
              histogram={found.histogram}
              from={found.asked.from}
              to={found.asked.to}
              height={listHeight}
              onNarrow={(from, to) =>
                void setWindow(
                  `${new Date(from).toISOString().slice(0, 19)}Z..${new Date(to).toISOString().slice(0, 19)}Z`,
                )
              }
            />
            <EventList
              events={found.events}
              condition={found.asked.condition}
              height={listHeight}
              onAdd={add}
              onAround={(event) => {
                void setCondition(null);
                void setWindow(
                  `${new Date(event.time - 30_000).toISOString()}..${new Date(event.time + 30_000).toISOString()}`,
                );
              }}
            />
          </div>
          <div className="w-[252px] shrink-0">
            {result && answered === found.asked && <CommonFields result={result} onAdd={add} />}
          </div>
        </div>
      )}
      {result?.summary && view === 'summary' && result.total > 0 && (
        <SummaryView table={result.summary} estimated={result.estimated} />
      )}
    </main>
  );
}

/** What there is to show of lines: those of the running search as soon as they stand, else those of the last one. */
function foundSoFar({ result, answered, early, progress }: SearchState) {
  if (early && progress) return { asked: early.asked, events: early.events, histogram: progress.histogram };
  if (!result || !answered || result.total === 0) return undefined;
  return { asked: answered, events: result.events, histogram: result.histogram };
}

function SummaryField({ value, onChange }: { readonly value: string; readonly onChange: (text: string) => void }) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const parsed = parseSummary(text);
  return (
    <form
      className="min-w-0 flex-1"
      onSubmit={(event) => {
        event.preventDefault();
        if (parsed.ok) onChange(text);
      }}
    >
      <input
        aria-label="Summary"
        aria-invalid={!parsed.ok}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => parsed.ok && onChange(text)}
        className="line w-full rounded-[5px] border border-hair bg-sheet px-3 py-1"
      />
      {!parsed.ok && (
        <p role="alert" className="text-[12px] text-danger">
          {parsed.problem.message} (character {parsed.problem.start + 1})
          {parsed.problem.suggestion && `; did you mean ${parsed.problem.suggestion}?`}
        </p>
      )}
    </form>
  );
}

function Reading({ search }: { readonly search: SearchState }) {
  const { progress, result, running } = search;
  let text = '';
  if (running && progress)
    text = `${progress.segmentsRead} of ${progress.segments} segments read, ${formatCount(progress.total)} events found …`;
  else if (running) text = 'looking for segments …';
  else if (result)
    text = `looked into ${formatCount(result.segments)} of ${formatCount(result.stored.segments)} segments, ${formatCount(result.tookMs)} ms`;
  return (
    <span role="status" className="text-[12.5px] whitespace-nowrap text-second">
      {text}
    </span>
  );
}

/** An empty result says why it is empty. */
function WhyEmpty({ search }: { readonly search: SearchState }) {
  const { result, answered } = search;
  if (!result || !answered) return null;
  return (
    <Nothing title="No event was found.">
      <ul className="list-disc pl-5">
        {result.stored.segments === 0 ? (
          <li>
            Nothing is stored of that time: nothing arrived, or its tier has let it expire.
            {result.stored.lastBefore !== undefined &&
              ` The last event before it happened at ${dayAndMinute(result.stored.lastBefore)}.`}
          </li>
        ) : (
          <li>About {formatCount(result.stored.events)} events are stored of that time; none fits the condition.</li>
        )}
      </ul>
    </Nothing>
  );
}
