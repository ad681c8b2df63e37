import type { SearchDoubt } from '../../data/answers.ts';
import { corrected, DoubtList } from '../../kit/doubt-list.tsx';
import type { SearchRequest } from './use-search.ts';

/** What of the search can hardly be meant as it stands. */
export function Doubts({
  doubts,
  asked,
  onTake,
}: {
  readonly doubts: readonly SearchDoubt[];
  readonly asked: SearchRequest;
  readonly onTake: (place: SearchDoubt['in'], text: string) => void;
}) {
  return (
    <DoubtList
      doubts={doubts}
      remark={(doubt) => (doubt.in === 'summary' ? ' (in the summary)' : '')}
      onTake={(doubt) => onTake(doubt.in, corrected(doubt.in === 'summary' ? asked.show : asked.condition, doubt))}
    />
  );
}
