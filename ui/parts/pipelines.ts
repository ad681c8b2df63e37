import type { PartScreen } from './part-screen.ts';
import { withQuery } from './with-query.ts';

const page = (id: string): string => `/parsing/${encodeURIComponent(id)}`;

/** Pipelines: each has a page of its own. */
export const pipelines: PartScreen = {
  key: 'pipelines',
  page,
  form: ({ id, step, field }) => withQuery(page(id), { step, field }),
};
