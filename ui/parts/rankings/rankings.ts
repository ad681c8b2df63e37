import type { PartScreen } from '../part-screen.ts';
import { withQuery } from '../with-query.ts';
import { RehearsedRankings } from './rehearsed-rankings.tsx';

/** Rankings, under Talkers. */
export const rankings: PartScreen = {
  key: 'rankings',
  page: (id) => withQuery('/metrics/talkers', { ranking: id }),
  form: ({ id, field }) => withQuery('/metrics/talkers', { edit: id, field }),
  Rehearsed: RehearsedRankings,
};
