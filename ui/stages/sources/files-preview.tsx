'use client';

import { useFormContext } from 'react-hook-form';
import { formatBytes, formatCount } from '#core/events/units.ts';
import type { JoinRule } from '#core/formats/join.ts';
import { useQuestion } from '../../data/client.ts';
import { ago } from '../../kit/times/times.ts';
import { useRested } from '../../kit/use-rested.ts';
import { JoinedLines } from './joined-lines.tsx';
import { readGlobs, type SourceFields } from './source-form.ts';

/** Files that are listed. */
const mostListed = 4;
/** For how long typing rests before files are looked for (milliseconds). */
const restTime = 400;

/**
 * The files that the patterns of the form find, with their size and last line; where their lines look like multi-line records,
 * the rule for them. Before anything is typed, the logs of this machine, each to be taken with a click.
 */
export function FilesPreview({ onJoin }: { readonly onJoin: (rule: JoinRule) => void }) {
  const { watch, setValue } = useFormContext<SourceFields>();
  const patterns = useRested(readGlobs(watch('globs')).join('\n'), restTime);
  const isJoined = watch('join') !== '';
  const { data, error } = useQuestion('files', { patterns }, 10_000);
  // What is wrong with a pattern is said under its field once it is sent.
  if (error) return <p className="text-[12.5px] text-second">{error.message}</p>;
  if (!data) return null;
  const isTyped = patterns !== '';
  if (data.files.length === 0)
    return isTyped ? (
      <p role="status" className="text-[12.5px] text-caution">
        ▲ No files match yet. The source follows them once they exist.
      </p>
    ) : null;
  const take = (path: string): void =>
    setValue('globs', `${path}*`, { shouldDirty: true, shouldTouch: true, shouldValidate: true });
  return (
    <>
      <section aria-label={isTyped ? 'Matching files' : 'Logs on this machine'} className="text-[12.5px]">
        <h3 className="font-semibold text-second">
          {isTyped ? `${formatCount(data.files.length + data.more)} matching files` : 'Logs on this machine'}
        </h3>
        <ul className="border-b border-hair">
          {data.files.slice(0, mostListed).map(({ path, size, changedAt, lastLine }) => (
            <li key={path} className="border-t border-hair py-1">
              <span className="flex justify-between gap-3">
                {isTyped ? (
                  <b className="min-w-0 truncate font-[650]">{path}</b>
                ) : (
                  <button type="button" className="min-w-0 truncate text-mark underline" onClick={() => take(path)}>
                    {path}
                  </button>
                )}
                <span className="shrink-0 text-second">
                  {formatBytes(size)} · {ago(changedAt)}
                </span>
              </span>
              {lastLine !== '' && <span className="line block truncate text-second">{lastLine}</span>}
            </li>
          ))}
        </ul>
      </section>
      {isTyped && !isJoined && <JoinedLines lines={data.lines} onJoin={onJoin} action="Join lines" />}
    </>
  );
}
