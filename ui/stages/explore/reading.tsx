import { formatCount } from '#core/events/units.ts';
import type { SearchState } from './use-search.ts';

/** How far the search has come, or what it took. */
export function Reading({ search }: { readonly search: SearchState }) {
  const { progress, result, running } = search;
  let text = '';
  if (running && progress)
    text = `${progress.segmentsRead} of ${progress.segments} segments read, ${formatCount(progress.total)} events found …`;
  else if (running) text = 'finding segments …';
  else if (result)
    text = `looked into ${formatCount(result.segments)} of ${formatCount(result.stored.segments)} segments, ${formatCount(result.tookMs)} ms`;
  return (
    <span role="status" className="text-[12.5px] whitespace-nowrap text-second">
      {text}
    </span>
  );
}
