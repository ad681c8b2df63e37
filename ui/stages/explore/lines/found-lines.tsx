'use client';

import { spanFor } from '#core/summaries/change-summary.ts';
import { writeSpan } from '#core/summaries/write-summary.ts';
import { TimeSpine } from '../time-spine.tsx';
import type { Explored } from '../use-explore.ts';
import type { SearchState } from '../use-search.ts';
import { CommonFields } from './common-fields.tsx';
import { EventList } from './event-list.tsx';
import { SaveFound } from './save-found.tsx';
import { Surroundings } from './surroundings.tsx';
import { useListHeight } from './use-list-height.ts';

/** The found events beside their spine, or what is around one of them. */
export function FoundLines({ asked, search }: { readonly asked: Explored; readonly search: SearchState }) {
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

/** What there is to show of lines: those of the running search as soon as they stand, else those of the last one. */
function foundSoFar({ result, answered, early, progress }: SearchState) {
  if (early && progress) return { asked: early.asked, events: early.events, histogram: progress.histogram };
  if (!result || !answered || result.total === 0) return undefined;
  return { asked: answered, events: result.events, histogram: result.histogram };
}
