'use client';

import Link from 'next/link';
import type { GroupView } from '#core/health/views.ts';
import { dayAndMinute, percent } from '../../kit/times/times.ts';

/** Emitters that fell silent within the same short time, under what they share and others lack. */
export function SilentGroups({ groups }: { readonly groups: readonly GroupView[] }) {
  const together = groups.filter((group) => group.members.length > 1);
  if (together.length === 0) return null;
  return (
    <ul className="mb-3 border-b border-hair">
      {together.map((group) => {
        const [cause, ...others] = group.causes;
        const names = group.members.map(({ emitter }) => emitter).sort();
        const sources = [...new Set(group.members.map(({ source }) => source))];
        return (
          <li key={`${group.at} ${names.join()}`} className="flex gap-3 border-t border-hair py-2">
            <span aria-hidden="true" className="text-danger">
              ◆
            </span>
            <span>
              <b className="font-[650]">
                {group.members.length} emitters of {sources.join(', ')} fell silent together
              </b>{' '}
              <span className="text-second">{dayAndMinute(group.at)}</span>
              <small className="block text-[12.5px] text-second">
                {cause ? (
                  <>
                    they share{' '}
                    <b className="text-ink">
                      {cause.trait} {cause.value}
                    </b>
                    , {cause.silent} of {cause.all} with it are silent, {percent(cause.sure)} sure
                    {others.length > 0 && `; or ${others.map(({ trait, value }) => `${trait} ${value}`).join(', ')}`}
                  </>
                ) : (
                  'they share nothing that others lack'
                )}
                {' · '}
                <Link href={`/sources?view=emitters&state=silent&of=${sources[0]}`} className="text-mark underline">
                  {names.slice(0, 4).join(', ')}
                  {names.length > 4 && ` and ${names.length - 4} more`}
                </Link>
              </small>
            </span>
          </li>
        );
      })}
    </ul>
  );
}
