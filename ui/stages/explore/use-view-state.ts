'use client';

import { useState } from 'react';
import { useKnownFields } from '../../data/known-fields.ts';
import type { FeedLine } from './arrivals/feed.ts';
import { useArrivals } from './arrivals/use-arrivals.ts';
import { useComparedConditions } from './arrivals/use-compared-conditions.ts';
import { useShapes } from './shapes/use-shapes.ts';
import type { Explored } from './use-explore.ts';
import { useSearch } from './use-search.ts';
import { viewRequests } from './view-requests.ts';
import type { ViewState } from './views/view.ts';
import { useWhy } from './why/use-why.ts';

/** Asks for what the view that is open shows. */
export function useViewState(asked: Explored): ViewState {
  const { condition, window, view, request } = asked;
  const search = useSearch(request);
  const shapes = useShapes(condition, window, view === 'shapes');
  const why = useWhy(asked);
  const { others } = useComparedConditions();
  const arrivals = useArrivals(view === 'arrivals' ? [condition, ...others] : []);
  const [arrived, setArrived] = useState<FeedLine | undefined>();
  // Completion can wait until the search has been answered.
  const isSearched = search.result !== undefined || search.failed !== undefined;
  const fields = useKnownFields(isSearched || viewRequests[view] === null);
  return { asked, search, shapes, why, arrivals, arrived, setArrived, fields };
}
