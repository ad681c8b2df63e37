import { formatCount } from '#core/events/units.ts';
import { Problem } from '../../kit/section.tsx';
import type { SearchState } from './use-search.ts';

/** What is wrong with a search, and what it could not read. */
export function Faults({ search: { failed, result } }: { readonly search: SearchState }) {
  return (
    <>
      {failed && (
        <Problem>
          {failed.message}
          {failed.problem && ` at character ${failed.problem.start + 1}`}
          {failed.problem?.suggestion && `; did you mean ${failed.problem.suggestion}?`}
        </Problem>
      )}
      {result && result.unread > 0 && (
        <Problem>
          The search took too long: {formatCount(result.unread)} of {formatCount(result.segments)} segments were not
          read, so their events are missing. Choose a shorter window or name a source.
        </Problem>
      )}
    </>
  );
}
