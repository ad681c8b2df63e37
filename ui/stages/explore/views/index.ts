import type { ViewName } from '../view-requests.ts';
import { arrivalsView } from './arrivals.tsx';
import { linesView } from './lines.tsx';
import { shapesView } from './shapes.tsx';
import { summaryView } from './summary.tsx';
import type { ExploreView } from './view.ts';
import { whyView } from './why.tsx';

/** The views of Explore, in the order in which they are offered. */
export const views: Readonly<Record<ViewName, ExploreView>> = {
  lines: linesView,
  summary: summaryView,
  shapes: shapesView,
  arrivals: arrivalsView,
  why: whyView,
};
