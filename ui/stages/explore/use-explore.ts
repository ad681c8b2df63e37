'use client';

import { parseAsArrayOf, parseAsString, parseAsStringLiteral, useQueryState, useQueryStates } from 'nuqs';
import { useMemo, useState } from 'react';
import { withPart } from '#core/conditions/parts.ts';
import { parseWindow } from '#core/conditions/times.ts';
import type { FoundEvent } from '#core/search/found-event.ts';
import { scopes } from './lines/surroundings.tsx';
import type { SearchRequest } from './use-search.ts';
import { viewNames, viewRequests } from './view-requests.ts';

/** What is asked and what is open, as the address of the page says it. */
export type Explored = ReturnType<typeof useExplore>;

/** Reads and writes the address of Explore. Each change that someone makes is one that Back goes back to. */
export function useExplore() {
  const [{ c: condition, off, w: window, show, view, with: template }, ask] = useQueryStates({
    c: parseAsString.withDefault(''),
    off: parseAsArrayOf(parseAsString).withDefault([]),
    w: parseAsString.withDefault('-1h'),
    show: parseAsString.withDefault('count() by source every 5m'),
    view: parseAsStringLiteral(viewNames).withDefault('lines'),
    with: parseAsString.withDefault(''),
  });
  // The event in the panel; and the one around which others are shown, with whose they are.
  const [{ event, shape, around, of: scope }, place] = useQueryStates({
    event: parseAsString,
    shape: parseAsString,
    around: parseAsString,
    of: parseAsStringLiteral(scopes),
  });
  const [panel, setPanel] = useQueryState('panel', parseAsStringLiteral(['saved']));
  const [focus] = useQueryState('focus');
  const [run, setRun] = useState(0);
  const request = useMemo<SearchRequest | undefined>(() => {
    void run;
    const parsed = parseWindow(window, Date.now());
    const requestOf = viewRequests[view];
    return parsed && requestOf ? { condition, ...parsed, with: template, ...requestOf(show) } : undefined;
  }, [condition, window, show, view, template, run]);
  const start = (text: string): void => {
    // A new question is about what is found, no longer about what is around one event.
    if (around !== null) void place({ around: null, of: null });
    void ask({ c: text === '' ? null : text });
    setRun((n) => n + 1);
  };
  return {
    condition,
    /** Parts of the condition that are switched off. */
    off,
    window,
    show,
    view,
    template,
    event,
    /** The kind of line in the panel. */
    shape,
    around,
    scope,
    panel,
    isFocused: focus !== null,
    request,
    /** How often it was asked, also where the same was asked before. */
    run,
    ask,
    place,
    setPanel: (next: 'saved' | null): void => {
      if (next !== null && (event !== null || shape !== null)) void place({ event: null, shape: null });
      void setPanel(next);
    },
    /** Searches, even where the same was asked before. */
    start,
    switchOff: (rest: string, part: string): void => void ask({ c: rest === '' ? null : rest, off: [...off, part] }),
    switchOn: (part: string): void =>
      void ask({ c: withPart(condition, part), off: off.filter((other) => other !== part) }),
    /** Narrows what is found to what a part of a condition says too. */
    add: (part: string): void => start(withPart(condition, part)),
    openEvent: (id: string | null): void => {
      if (id !== null && panel !== null) void setPanel(null);
      void place({ event: id, shape: null });
    },
    openShape: (id: string | null): void => {
      if (id !== null && panel !== null) void setPanel(null);
      void place({ shape: id, event: null });
    },
    /** Shows what is around an event, and the event itself in the panel. */
    showAround: (one: FoundEvent): void => {
      void place({ event: one.id, around: one.id, of: one.emitter === '' ? 'source' : 'emitter' });
    },
  };
}
