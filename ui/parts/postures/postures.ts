import type { PartScreen } from '../part-screen.ts';
import { withQuery } from '../with-query.ts';
import { RehearsedPostures } from './rehearsed-postures.tsx';

const page = (id: string): string => withQuery('/routing', { posture: id });

/** Postures, in Routing. */
export const postures: PartScreen = {
  key: 'postures',
  page,
  form: ({ id }) => page(id),
  Rehearsed: RehearsedPostures,
};
