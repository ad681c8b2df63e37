import type { ComponentType, ReactNode } from 'react';
import type { FieldSummary } from '#core/search/field-summary.ts';
import type { FeedLine } from '../arrivals/feed.ts';
import type { FeedStore } from '../arrivals/feed-store.ts';
import type { Shapes } from '../shapes/use-shapes.ts';
import type { Explored } from '../use-explore.ts';
import type { SearchState } from '../use-search.ts';
import type { Why } from '../why/use-why.ts';

/** What there is to show: each view takes of it what it needs. */
export interface ViewState {
  readonly asked: Explored;
  readonly search: SearchState;
  readonly shapes: Shapes;
  readonly why: Why;
  readonly arrivals: FeedStore;
  /** The arrived event that is looked at. */
  readonly arrived: FeedLine | undefined;
  readonly setArrived: (line: FeedLine | undefined) => void;
  readonly fields: readonly FieldSummary[];
}

/** What is in the panel at the right. */
export interface OpenPanel {
  readonly open: boolean;
  readonly title: string;
  readonly onClose: () => void;
  readonly panel: ReactNode;
}

/** A way to look at what a condition is about. */
export interface ExploreView {
  readonly title: string;
  /** What the button says that asks. */
  readonly action: string;
  /** Whether it is about a window of time. */
  readonly hasWindow: boolean;
  /** What was found, in a sentence. */
  readonly Sentence: ComponentType<ViewState>;
  /** What is beside the choice of views. */
  readonly Bar?: ComponentType<ViewState>;
  readonly Answer: ComponentType<ViewState>;
  /** The panel that it opens; undefined while it has none open. */
  readonly panel?: (state: ViewState) => OpenPanel | undefined;
}
