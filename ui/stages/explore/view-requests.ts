import type { SearchRequest } from './use-search.ts';

/** What a view asks a search for, beside the condition and the window. */
type ViewRequest = Pick<SearchRequest, 'show' | 'limit' | 'buckets' | 'fields'>;

/** The views of Explore with what each asks a search for; null: it asks for none. `show` is the summary that is typed. */
export const viewRequests = {
  lines: () => ({ show: '', limit: 500, buckets: 64, fields: true }),
  summary: (show) => ({ show, limit: 0, buckets: 0, fields: false }),
  // Shapes are counted as they arrive, and arrivals are not stored yet.
  shapes: null,
  arrivals: null,
  // It compares events by a question of its own.
  why: null,
} satisfies Readonly<Record<string, ((show: string) => ViewRequest) | null>>;

/** The name of a view, as addresses have it. */
export type ViewName = keyof typeof viewRequests;

/** The names of all views. */
export const viewNames = Object.keys(viewRequests) as readonly ViewName[];
