'use client';

import { useEffect, useMemo, useRef, useState } from 'react';
import type { Doubt } from '#core/conditions/doubts.ts';
import { wordDoubts } from '#core/conditions/word-doubts.ts';
import { formatCount } from '#core/events/units.ts';
import type { FieldSummary } from '#core/search/field-summary.ts';
import { spanFor } from '#core/summaries/change-summary.ts';
import { parseSummary } from '#core/summaries/parse-summary.ts';
import { writeSpan } from '#core/summaries/write-summary.ts';
import type { SearchDoubt } from '../../data/answers.ts';
import { useDraft } from '../../data/draft.ts';
import { useKnownFields } from '../../data/known-fields.ts';
import { ConditionEditor } from '../../editors/condition-editor.tsx';
import { Button } from '../../kit/button.tsx';
import { Choice } from '../../kit/choice.tsx';
import { WithPanel } from '../../kit/panel.tsx';
import { Problem } from '../../kit/section.tsx';
import { WindowPicker } from '../../kit/times/window-picker.tsx';
import { ArrivalsSentence } from './arrivals/arrivals-sentence.tsx';
import { ArrivalsViews } from './arrivals/arrivals-views.tsx';
import { ArrivedPanel } from './arrivals/arrived-panel.tsx';
import type { FeedLine } from './arrivals/feed.ts';
import { useArrivals } from './arrivals/use-arrivals.ts';
import { useComparedConditions } from './arrivals/use-compared-conditions.ts';
import { ConditionParts } from './condition-parts.tsx';
import { Doubts } from './doubts.tsx';
import { ExploreSentence } from './explore-sentence.tsx';
import { CommonFields } from './lines/common-fields.tsx';
import { EventList } from './lines/event-list.tsx';
import { EventPanel } from './lines/event-panel.tsx';
import { ExtractionRow } from './lines/extraction-row.tsx';
import { SaveFound } from './lines/save-found.tsx';
import { Surroundings } from './lines/surroundings.tsx';
import { useListHeight } from './lines/use-list-height.ts';
import { WhyEmpty } from './lines/why-empty.tsx';
import { Reading } from './reading.tsx';
import { SavedPanel } from './saved-panel.tsx';
import { MeasureChoice, ShapeList } from './shapes/shape-list.tsx';
import { ShapePanel } from './shapes/shape-panel.tsx';
import { ShapesSentence } from './shapes/shapes-sentence.tsx';
import { type Shapes, useShapes } from './shapes/use-shapes.ts';
import { KeepAsMetric } from './summary/keep-as-metric.tsx';
import { SummaryField } from './summary/summary-field.tsx';
import { SummaryView } from './summary/summary-view.tsx';
import { SummaryWords } from './summary/summary-words.tsx';
import { TabStrip } from './tab-strip.tsx';
import { TimeSpine } from './time-spine.tsx';
import { type Explored, useExplore } from './use-explore.ts';
import { type SearchState, useSearch } from './use-search.ts';
import { useTabs } from './use-tabs.ts';

/** What happened, and who caused it? */
export function Explore() {
  const asked = useExplore();
  const tabs = useTabs();
  const search = useSearch(asked.request);
  const { window, view, show, ask } = asked;
  const shapes = useShapes(asked.condition, window, view === 'shapes');
  const isLive = view === 'arrivals';
  const { others } = useComparedConditions();
  const arrivals = useArrivals(isLive ? [asked.condition, ...others] : []);
  const [arrived, setArrived] = useState<FeedLine | undefined>();
  const { result, answered } = search;
  const { live } = useDraft();
  // Completion can wait until the search has been answered.
  const isSearched = result !== undefined || search.failed !== undefined;
  const fields = useKnownFields(isSearched || isLive || view === 'shapes');
  const doubts = useDoubts(search, fields);
  const arrivedPanel = (line: FeedLine) => ({
    open: true,
    title: 'Arrived event',
    onClose: () => setArrived(undefined),
    panel: <ArrivedPanel key={line.key} line={line} plan={live} />,
  });
  return (
    <WithPanel {...(isLive && arrived ? arrivedPanel(arrived) : panelOf(asked, tabs.shown, shapes))}>
      {view === 'shapes' && <ShapesSentence {...shapes} />}
      {isLive && <ArrivalsSentence store={arrivals} condition={asked.condition} />}
      {view !== 'shapes' && !isLive && <ExploreSentence search={search} window={window} />}
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
          onChange={(template) => void ask({ with: template })}
        />
      )}
      {result && answered && doubts.length > 0 && (
        <Doubts
          doubts={doubts}
          asked={answered}
          onTake={(place, text) => (place === 'summary' ? void ask({ show: text }) : asked.start(text))}
        />
      )}
      <ViewBar asked={asked} search={search} shapes={shapes} fields={fields} />
      {view === 'summary' && (
        <SummaryWords value={show} fields={fields} onChange={(text) => void ask({ show: text })} />
      )}
      {view !== 'shapes' && !isLive && <Faults search={search} />}
      {isLive && (
        <ArrivalsViews
          store={arrivals}
          condition={asked.condition}
          onHour={() => void ask({ view: 'lines', w: '-1h' })}
          onOpen={setArrived}
        />
      )}
      {view === 'shapes' && (
        <ShapeList
          shapes={shapes}
          open={asked.shape}
          onOpen={(id) => asked.openShape(id === asked.shape ? null : id)}
        />
      )}
      {view !== 'shapes' && !isLive && <Found asked={asked} search={search} />}
    </WithPanel>
  );
}

/** What a search found, as lines or as a summary; or why it found nothing. */
function Found({ asked, search }: { readonly asked: Explored; readonly search: SearchState }) {
  const { result, answered, running } = search;
  const isEmpty = result !== undefined && result.total === 0;
  return (
    <>
      {isEmpty && !running && asked.around === null && <WhyEmpty search={search} />}
      {asked.view === 'lines' && <Lines asked={asked} search={search} />}
      {asked.view === 'summary' && result?.summary && answered && !isEmpty && (
        <SummaryView
          table={result.summary}
          estimated={result.estimated}
          asked={answered}
          every={everyOf(answered.show)}
        />
      )}
    </>
  );
}

/** Which view, and what belongs to it. */
function ViewBar(props: {
  readonly asked: Explored;
  readonly search: SearchState;
  readonly shapes: Shapes;
  readonly fields: readonly FieldSummary[];
}) {
  const { asked, search, shapes, fields } = props;
  const { view, show } = asked;
  const isLive = view === 'arrivals';
  return (
    <div className="mt-5 mb-2 flex items-center justify-between gap-4">
      <Choice
        label="View"
        value={view}
        onChange={(value) => void asked.ask({ view: value })}
        options={[
          { value: 'lines', title: 'Lines' },
          { value: 'summary', title: 'Summary' },
          { value: 'shapes', title: 'Shapes' },
          { value: 'arrivals', title: 'Arrivals' },
        ]}
      />
      {view === 'summary' && (
        <SummaryField value={show} fields={fields} onChange={(text) => void asked.ask({ show: text })} />
      )}
      {view === 'summary' && <KeepAsMetric summary={show} condition={asked.condition} />}
      {view === 'shapes' && <MeasureChoice shapes={shapes} />}
      {view !== 'shapes' && !isLive && <Reading search={search} />}
    </div>
  );
}

/** What stands in the panel at the right: an event, the saved searches, or nothing. */
function panelOf(
  { event, shape, panel, condition, window, view, show, ...asked }: Explored,
  tab: string,
  shapes: Shapes,
) {
  if (event !== null) {
    const onAround = (): void => void asked.place({ around: event, of: asked.scope ?? 'source' });
    return {
      open: true,
      title: 'Event',
      onClose: () => asked.openEvent(null),
      panel: <EventPanel key={event} id={event} onAdd={asked.add} onAround={onAround} />,
    };
  }
  if (shape !== null && view === 'shapes') {
    const onLines = (of: string): void => {
      void asked.place({ shape: null });
      void asked.ask({ view: 'lines', c: of });
    };
    return {
      open: true,
      title: 'Shape',
      onClose: () => asked.openShape(null),
      panel: <ShapePanel key={shape} id={shape} asked={shapes.asked} onLines={onLines} />,
    };
  }
  const now = { condition, window, summary: view === 'summary' ? show : '' };
  return {
    open: panel !== null,
    title: 'Saved searches',
    onClose: () => asked.setPanel(null),
    panel: <SavedPanel now={now} tab={tab} />,
  };
}

/** What of the search is doubted: by the engine, and words that are values of fields. */
function useDoubts({ result, answered }: SearchState, fields: readonly FieldSummary[]): readonly SearchDoubt[] {
  return useMemo(() => {
    if (!result || !answered) return [];
    const words = wordDoubts(answered.condition, fields);
    const isKnown = ({ start, end }: Doubt): boolean =>
      result.doubts.some((doubt) => doubt.in === 'condition' && doubt.start < end && doubt.end > start);
    return [
      ...result.doubts,
      ...words.filter((doubt) => !isKnown(doubt)).map((doubt) => ({ in: 'condition' as const, ...doubt })),
    ];
  }, [result, answered, fields]);
}

/** So long after it is shown a search may be restored (milliseconds). */
const restoring = 3_000;

/** The condition, the window, and the button that runs or stops the search. */
function Question({
  asked,
  search,
  fields,
}: {
  readonly asked: Explored;
  readonly search: SearchState;
  readonly fields: readonly FieldSummary[];
}) {
  const { condition, window, start, view } = asked;
  const isLive = view === 'arrivals';
  const [typed, setTyped] = useState(condition);
  const isTyping = useRef(false);
  const [shownAt] = useState(() => Date.now());
  useEffect(() => {
    // Who comes without a question finds the last one again, unless they have begun to type another meanwhile.
    if (!isTyping.current) setTyped(condition);
    isTyping.current = false;
  }, [condition]);
  const type = (text: string): void => {
    isTyping.current = condition === '' && text !== '' && Date.now() - shownAt < restoring;
    setTyped(text);
  };
  const run = (): void => {
    isTyping.current = false;
    start(typed);
  };
  return (
    <div className="mt-2 flex items-start gap-3">
      <div className="min-w-0 flex-1">
        <ConditionEditor
          isSearch
          value={typed}
          fields={fields}
          onChange={type}
          onRun={run}
          autoFocus={asked.isFocused}
        />
      </div>
      {!isLive && <WindowPicker value={window} onChange={(next) => void asked.ask({ w: next })} />}
      {search.running ? (
        <Button className="h-[38px]" onClick={search.cancel}>
          Stop
        </Button>
      ) : (
        <Button look="main" className="h-[38px]" onClick={run}>
          {isLive ? 'Watch' : 'Search'}
        </Button>
      )}
    </div>
  );
}

function Faults({ search: { failed, result } }: { readonly search: SearchState }) {
  return (
    <>
      {failed && (
        <Problem>
          {failed.message}
          {failed.problem && ` at character ${failed.problem.start + 1}`}
          {failed.problem?.suggestion && `; did you mean ${failed.problem.suggestion}?`}
        </Problem>
      )}
      {result && result.unread > 0 && (
        <Problem>
          The search took too long: {formatCount(result.unread)} of {formatCount(result.segments)} segments were not
          read, so their events are missing. Choose a shorter window or name a source.
        </Problem>
      )}
    </>
  );
}

/** The found events beside their spine, or what lies around one of them. */
function Lines({ asked, search }: { readonly asked: Explored; readonly search: SearchState }) {
  const { event: open, around, scope, place } = asked;
  const found = foundSoFar(search);
  const listHeight = useListHeight();
  if (around !== null) {
    return (
      <Surroundings
        key={`${around} ${scope}`}
        anchor={around}
        scope={scope ?? 'source'}
        open={open}
        onScope={(of) => void place({ of })}
        onOpen={(event) => asked.openEvent(event === open ? null : event)}
        onLeave={() => void place({ around: null, of: null })}
      />
    );
  }
  if (!found) return null;
  const { result, answered } = search;
  return (
    <div className="flex gap-5">
      <div className="min-w-0 flex-1">
        <div className="flex">
          <TimeSpine
            histogram={found.histogram}
            from={found.asked.from}
            to={found.asked.to}
            height={listHeight}
            onNarrow={(from, to) =>
              void asked.ask({
                w: `${new Date(from).toISOString().slice(0, 19)}Z..${new Date(to).toISOString().slice(0, 19)}Z`,
              })
            }
          />
          <EventList
            events={found.events}
            condition={found.asked.condition}
            height={listHeight}
            onAdd={asked.add}
            onOpen={(event) => asked.openEvent(event.id)}
            onAround={asked.showAround}
            onTemplate={(template) => void asked.ask({ with: template })}
          />
        </div>
        {result && answered === found.asked && <SaveFound asked={found.asked} />}
      </div>
      {open === null && asked.panel === null && (
        <div className="w-[252px] shrink-0">
          {result && answered === found.asked && (
            <CommonFields
              result={result}
              condition={asked.condition}
              span={writeSpan(spanFor(found.asked.to - found.asked.from))}
              onAdd={asked.add}
              onSummary={(summary) => void asked.ask({ view: 'summary', show: summary })}
            />
          )}
        </div>
      )}
    </div>
  );
}

/** The sources of the lines that were found. */
function sourcesOf({ result }: SearchState): readonly string[] {
  return [...new Set(result?.events.map(({ source }) => source))];
}

/** How long the stretches of time of a summary are, in milliseconds; 0 for none. */
function everyOf(show: string): number {
  const parsed = parseSummary(show);
  return parsed.ok ? parsed.summary.every : 0;
}

/** What there is to show of lines: those of the running search as soon as they stand, else those of the last one. */
function foundSoFar({ result, answered, early, progress }: SearchState) {
  if (early && progress) return { asked: early.asked, events: early.events, histogram: progress.histogram };
  if (!result || !answered || result.total === 0) return undefined;
  return { asked: answered, events: result.events, histogram: result.histogram };
}
