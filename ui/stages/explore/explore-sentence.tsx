import type { SearchAnswer } from '#core/answers/search.ts';
import { parseWindow } from '#core/conditions/times.ts';
import { formatCount, formatDuration } from '#core/events/units.ts';
import { Figure, FigurePending, Sentence } from '../../kit/sentence.tsx';
import { percent } from '../../kit/times.ts';
import type { SearchState } from './use-search.ts';

/** What was found, in a sentence: how many events, how many of them severe, and what most have in common. */
export function ExploreSentence({ search, window }: { readonly search: SearchState; readonly window: string }) {
  const { result, answered } = search;
  if (!parseWindow(window, Date.now())) return <Sentence>{window} is no stretch of time.</Sentence>;
  if (search.failed) return <Sentence>This search has no answer.</Sentence>;
  if (search.running && search.progress) {
    return (
      <Sentence>
        <Figure>{formatCount(search.progress.total)}</Figure> events so far …
      </Sentence>
    );
  }
  if (!result || !answered) {
    return (
      <Sentence>
        <FigurePending /> events are looked for …
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
  return (
    <Sentence>
      <Figure>
        {result.estimated && '≈ '}
        {formatCount(result.total)}
      </Figure>{' '}
      {result.total === 1 ? 'event' : 'events'} in{' '}
      <Figure>{formatDuration((answered.to - answered.from) / 1000)}</Figure>
      {errors > 0 && (
        <>
          , <Figure needs>{formatCount(errors)}</Figure> at error or worse
        </>
      )}
      {telling && top && (
        <>
          ; <Figure>{percent(Math.min(1, top.count / Math.max(1, result.fieldsOf)))}</Figure>{' '}
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
