import { exportFormats } from '#core/exports/index.ts';
import { addressOf } from '../../../data/client.ts';
import { inOtherZone } from '../../../kit/times/times.ts';
import type { SearchRequest } from '../use-search.ts';

/** Links that save everything that was found, however much; the browser shows how far it is, and stops it. */
export function SaveFound({ asked }: { readonly asked: SearchRequest }) {
  const { condition, from, to, with: template } = asked;
  const search = {
    condition,
    from: inOtherZone(from),
    to: inOtherZone(to),
    ...(template !== '' && { with: template }),
  };
  return (
    <p className="mt-1.5 text-[12.5px] text-second">
      Save all results:{' '}
      {[...exportFormats.values()].map(({ name, title }) => (
        <a
          key={name}
          download
          href={addressOf('exportEvents', { ...search, format: name })}
          className="mr-3 font-semibold text-mark hover:underline"
        >
          {title}
        </a>
      ))}
      <span>sorted by source, then time</span>
    </p>
  );
}
