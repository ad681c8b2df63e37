import { parseWindow } from '#core/conditions/times.ts';
import { formatCount, formatDuration } from '#core/events/units.ts';
import type { SearchAnswer } from '../../data/answers.ts';
import { Figure, FigurePending, Mark } from '../../kit/figure.tsx';
import { Sentence } from '../../kit/sentence.tsx';
import { percent } from '../../kit/times/times.ts';
import type { SearchState } from './use-search.ts';

/** What was found, in a sentence: how many events, how many of them severe, and what most have in common. */
export function ExploreSentence({ search, window }: { readonly search: SearchState; readonly window: string }) {
  const { result, answered } = search;
  if (!parseWindow(window, Date.now())) return <Sentence>{window} is not a time window.</Sentence>;
  if (search.failed) return <Sentence>The search failed.</Sentence>;
  if (search.running && search.progress) {
    return (
      <Sentence>
        <Mark>{formatCount(search.progress.total)}</Mark> events so far …
      </Sentence>
    );
  }
  if (!result || !answered) {
    return (
      <Sentence>
        Searching … <FigurePending /> events
      </Sentence>
    );
  }
  const errors = result.histogram.counts.reduce((sum, bucket) => sum + (bucket[5] ?? 0) + (bucket[6] ?? 0), 0);
  const telling = result.fields.find(
    (field) =>
      field.name !== 'severity' &&
      field.distinct > 1 &&
      !field.many &&
      (field.top[0]?.count ?? 0) > result.fieldsOf * 0.3,
  );
  const top = telling?.top[0];
  const { condition } = answered;
  const of = { of: condition, over: window };
  return (
    <Sentence>
      <Figure {...of} name="events found" unit="events" value={result.total}>
        {result.estimated && '≈ '}
        {formatCount(result.total)}
      </Figure>{' '}
      {result.total === 1 ? 'event' : 'events'} in <Mark>{formatDuration((answered.to - answered.from) / 1000)}</Mark>
      {errors > 0 && (
        <>
          ,{' '}
          <Figure {...of} name="events found at error or worse" unit="events" value={errors} needs>
            {formatCount(errors)}
          </Figure>{' '}
          at error or worse
        </>
      )}
      {telling && top && (
        <>
          ; <Mark>{percent(Math.min(1, top.count / Math.max(1, result.fieldsOf)))}</Mark>{' '}
          {isAllOf(result) ? 'have' : 'of the newest have'} {telling.name} {top.value}
        </>
      )}
      .
    </Sentence>
  );
}

/** Whether what the found events have in common was computed over all of them. */
function isAllOf({ fieldsOf, total }: SearchAnswer): boolean {
  return fieldsOf >= total;
}
