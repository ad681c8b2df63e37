'use client';

import type { SearchDoubt } from '#core/answers/search.ts';
import type { SearchRequest } from './use-search.ts';

/** What of the search can hardly be meant as it stands, each with what may be meant instead, to be taken by a click. */
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
    <ul aria-label="Doubts" className="mt-1.5 text-[13px] text-caution">
      {doubts.map((doubt) => (
        <li key={`${doubt.in} ${doubt.start} ${doubt.message}`}>
          {`${doubt.message.charAt(0).toUpperCase()}${doubt.message.slice(1)}`}
          {doubt.in === 'summary' && ' (in the summary)'}
          {doubt.suggestion ? (
            <>
              ; did you mean{' '}
              <button
                type="button"
                className="min-h-6 font-[650] underline hover:text-mark"
                onClick={() =>
                  onTake(doubt.in, corrected(doubt.in === 'summary' ? asked.show : asked.condition, doubt))
                }
              >
                {doubt.suggestion}
              </button>
              ?
            </>
          ) : (
            '.'
          )}
        </li>
      ))}
    </ul>
  );
}

function corrected(text: string, { start, end, suggestion = '' }: SearchDoubt): string {
  return text.slice(0, start) + suggestion + text.slice(end);
}
